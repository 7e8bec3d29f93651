#include "core/measure/lag.h"

#include "core/measure/follow.h"
#include "core/measure/subject.h"
#include "core/pose/motion.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

// A hinge or ball whose limb goes with it as one piece.
bool turnsAPiece(Role role) {
    switch (role) {
    case Role::Shoulder:
    case Role::Elbow:
    case Role::Wrist:
    case Role::Hip:
    case Role::Knee:
    case Role::Ankle:
    case Role::Toe:
    case Role::Fetlock:
    case Role::Finger:
    case Role::Thumb:
    case Role::Head:
        return true;
    default:
        return false;
    }
}

double distanceToBone(const Vec3d& p, const Vec3d& a, const Vec3d& b) {
    const Vec3d ab = b - a;
    const double t = std::clamp((p - a).dot(ab) / std::max(ab.squaredNorm(), 1e-18), 0.0, 1.0);
    return (p - a - t * ab).norm();
}

// Per joint, how far the skin that it holds most lies from its bones, metres: the median. 0 where it holds
// none.
std::vector<double> fleshAround(const Subject& s) {
    const Skeleton& sk = s.character->skeleton;
    const auto children = sk.children();
    const auto place = [&](int k) {
        return Vec3d(sk.neutralWorld[static_cast<std::size_t>(k)].translation());
    };
    std::vector<std::vector<double>> all(sk.name.size());
    const SkinWeights& w = s.surface.weights;
    for (std::uint32_t v = 0; v < s.surface.vertexCount(); ++v) {
        int joint = -1;
        float most = 0.5f;
        for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i)
            if (w.weight[i] > most) {
                most = w.weight[i];
                joint = w.joint[i];
            }
        if (joint < 0)
            continue;
        const Vec3d p = s.neutral[v].cast<double>(), a = place(joint);
        double d = children[static_cast<std::size_t>(joint)].empty() ? INFINITY : (p - a).norm();
        for (int k : children[static_cast<std::size_t>(joint)])
            d = std::min(d, distanceToBone(p, a, place(k)));
        if (d < INFINITY)
            all[static_cast<std::size_t>(joint)].push_back(d);
    }
    std::vector<double> out(sk.name.size(), 0);
    for (std::size_t j = 0; j < out.size(); ++j)
        if (auto& list = all[j]; !list.empty()) {
            std::nth_element(list.begin(), list.begin() + static_cast<std::ptrdiff_t>(list.size() / 2),
                             list.end());
            out[j] = list[list.size() / 2];
        }
    return out;
}

} // namespace

Samples missingTurn(const Subject& s, const Motion& motion, float least) {
    Samples out;
    if (motion.turns.size() != 1 || motion.roll || motion.span != Span::Degrees || !motion.targets.empty())
        return out;
    const int joint = motion.turns.front().joint;
    const auto j = static_cast<std::size_t>(joint);
    const JointZone& zone = s.zones[j];
    if (!turnsAPiece(s.roles[j].role) || zone.empty() || zone.limbRadius <= 0)
        return out;
    const Skeleton& sk = s.character->skeleton;
    const std::vector<char> below = sk.subtree(joint);
    const std::vector<float> shares = followShares(*s.character, joint, motion.axisOf(motion.turns.front()));
    constexpr float anothers = 0.9f; // of the turn: skin that misses more was never the limb's, or it tears
    constexpr double beyond = 1.3,
                     widest = 4.2; // limb radii: a blend has hardly anything left there; it may be so long
    const Vec3d here = sk.neutralWorld[j].translation();
    // What is missing more than the longest even passage would miss there; 0 where that is none of the limb's
    // affair.
    const auto misses = [&](std::uint32_t v) {
        const double along = (s.neutral[v].cast<double>() - here).dot(zone.axis) / zone.limbRadius;
        if (s.surface.shellOf[v] != zone.shell || along < beyond)
            return 0.f;
        const float missing = 1 - followingAt(s.surface.weights, v, shares);
        if (missing > anothers)
            return 0.f;
        const float more = missing - static_cast<float>(std::max(0.0, 0.5 - along / widest));
        return more < least ? 0.f : more;
    };
    if (std::none_of(zone.vertices.begin(), zone.vertices.end(),
                     [&](std::uint32_t v) { return misses(v) > 0; }))
        return out; // most joints, and nothing more to ask
    const auto place = [&](int k) {
        return Vec3d(sk.neutralWorld[static_cast<std::size_t>(k)].translation());
    };
    // Bones of the limb, and those of the rest around it: skin belongs to the one it lies nearest to, in
    // radii of the flesh around each; a trunk's flank is nearer to the hanging arm than to the spine.
    struct Bone {
        Vec3d a, b;
        double radius = 1;
        bool ours = false;
    };
    const std::vector<double> flesh = fleshAround(s);
    const auto radiusOf = [&](int k) {
        const double r = flesh[static_cast<std::size_t>(k)];
        return r > 0 ? r : zone.limbRadius;
    };
    std::vector<Bone> bones;
    for (int k = 0; k < sk.size(); ++k) {
        const int p = sk.parent[static_cast<std::size_t>(k)];
        if (p >= 0 && s.roles[static_cast<std::size_t>(p)].movesSkin && place(p) != place(k))
            bones.push_back({place(p), place(k), radiusOf(p), below[static_cast<std::size_t>(p)] != 0});
    }
    if (std::none_of(bones.begin(), bones.end(), [](const Bone& b) { return b.ours; }))
        bones.push_back(
            {here, here + 2 * zone.limbRadius * zone.axis, zone.limbRadius, true}); // it ends in no bone
    constexpr double near = 1.6; // radii of its flesh from the bone
    for (std::uint32_t v : zone.vertices) {
        const float missing = misses(v);
        if (missing <= 0)
            continue;
        const Vec3d p = s.neutral[v].cast<double>();
        const Bone* nearest = nullptr;
        double most = INFINITY;
        for (const Bone& b : bones)
            if (const double d = distanceToBone(p, b.a, b.b) / b.radius; d < most) {
                most = d;
                nearest = &b;
            }
        if (nearest->ours && most < near)
            out.push_back({v, missing});
    }
    return out;
}

Samples leftBehind(const Subject& s, const Motion& motion, const Samples& missing, double degrees,
                   double visible) {
    Samples out;
    if (missing.empty())
        return out;
    const JointTurn& turn = motion.turns.front();
    const Transform& joint = s.character->skeleton.neutralWorld[static_cast<std::size_t>(turn.joint)];
    const Vec3d axis = (rotationOf(joint) * turn.axis).normalized(), pivot = joint.translation();
    const double angle = std::abs(radians(degrees * turn.share));
    for (const Sample& x : missing) {
        const Vec3d d = s.neutral[x.at].cast<double>() - pivot;
        const double arm = (d - d.dot(axis) * axis).norm();
        if (2 * arm * std::sin(std::min(angle * static_cast<double>(x.value), kPi) / 2) > visible)
            out.push_back(x);
    }
    return out;
}

} // namespace hobble
