// Where a joint lies in the section of its limb: 0 in the middle, 1 on the skin, measured on the ray from the
// section's middle through the joint, so that a flat section is judged as it is.
#include "core/intake/collect.h"
#include "core/measure/limb_middle.h"

#include <cmath>
#include <optional>

namespace hobble {

namespace {

std::optional<double> outOf(const std::vector<EdgePoint>& loop, const std::vector<Vec3>& positions,
                            const Vec3d& joint) {
    std::vector<Vec3d> p;
    for (const EdgePoint& e : loop)
        p.push_back(((1 - e.t) * positions[e.a] + e.t * positions[e.b]).cast<double>());
    const auto found = loopMiddle(loop, positions);
    if (!found)
        return std::nullopt;
    const Vec3d middle = *found;
    Vec3d ray = joint - middle;
    const double off = ray.norm();
    const double size = (p[0] - middle).norm();
    if (off < 6e-3 * size) // a thousandth of the way round
        return 0;
    ray /= off;
    // the farthest crossing of the ray with the loop, in the loop's own plane
    Vec3d normal = Vec3d::Zero();
    for (std::size_t i = 0; i < p.size(); ++i)
        normal += (p[i] - middle).cross(p[(i + 1) % p.size()] - middle);
    const Vec3d across = normal.normalized().cross(ray);
    double skin = 0;
    for (std::size_t i = 0; i < p.size(); ++i) {
        const Vec3d a = p[i] - middle, b = p[(i + 1) % p.size()] - middle;
        const double sa = a.dot(across), sb = b.dot(across);
        if ((sa > 0) == (sb > 0))
            continue;
        const double t = sa / (sa - sb);
        skin = std::max(skin, (a + t * (b - a)).dot(ray));
    }
    return skin > 0 ? std::optional(off / skin) : std::nullopt;
}

} // namespace

CheckFindings checkPivots(const Subject& s, const IntakeLimits& limits) {
    const Character& c = *s.character;
    CheckFindings out;
    for (int j = 0; j < c.skeleton.size(); ++j) {
        const Role r = s.roles[j].role;
        const JointZone& zone = s.zones[j];
        if (zone.empty() || (r != Role::Shoulder && r != Role::Elbow && r != Role::Wrist && r != Role::Hip &&
                             r != Role::Knee && r != Role::Ankle && r != Role::Finger && r != Role::Thumb &&
                             r != Role::Neck && r != Role::Tail))
            continue;
        // the flesh is the shell that blends most here, not a garment over it
        std::map<std::uint32_t, std::size_t> blends;
        for (std::uint32_t v : zone.blendVertices)
            ++blends[s.surface.shellOf[v]];
        if (blends.empty())
            continue;
        std::uint32_t shell =
            zone.shell >= 0
                ? static_cast<std::uint32_t>(zone.shell)
                : std::max_element(blends.begin(), blends.end(), [](const auto& a, const auto& b) {
                      return a.second < b.second;
                  })->first;
        std::vector<std::uint32_t> flesh;
        for (std::uint32_t t : zone.triangles)
            if (s.surface.shellOf[s.surface.triangles[t][0]] == shell)
                flesh.push_back(t);
        const Vec3d at = c.skeleton.neutralWorld[j].translation();
        std::optional<double> off;
        for (const auto& loop : planeCut(s.surface, flesh, s.neutral, at, zone.axis))
            if (const auto o = outOf(loop, s.neutral, at); o && (!off || *o < *off))
                off = o;
        if (!off || *off <= limits.pivotOut)
            continue;
        out.push_back({.check = tableWord("pivot outside the limb"),
                       .severity = *off > 1.5 * limits.pivotOut ? 3 : 2,
                       .joint = j,
                       .value = *off,
                       .sentence = say("%s lies %.2f of the way from the middle of its limb to the skin.",
                                       c.skeleton.name[j].c_str(), *off),
                       .advice = say("Move the joint into the flesh and bind again.")});
    }
    return out;
}

} // namespace hobble
