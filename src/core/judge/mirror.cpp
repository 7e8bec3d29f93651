#include "core/judge/mirror.h"

#include "core/measure/follow.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

namespace hobble {

namespace {

constexpr double kDiffers = 0.1; // of weights, 0 … 1

struct Plane { // of symmetry
    Vec3d normal;
    double offset = 0;
    bool known = false;
    Vec3d mirrored(const Vec3d& p) const { return p - 2 * (normal.dot(p) - offset) * normal; }
};

Vec3d place(const Subject& s, int joint) { return s.character->skeleton.neutralWorld[joint].translation(); }

// Where left is by the joints, wherever the body stands: the direction nearest to those from right to left of
// all pairs, by the sum of the distances (Weiszfeld 1937): a joint that is off does not turn it. The body's
// own left is held to the axes.
Vec3d leftOf(const Subject& s) {
    std::vector<Vec3d> pairs;
    for (int j = 0; j < s.character->skeleton.size(); ++j)
        if (s.roles[j].side == Side::Left && s.roles[j].mirror >= 0) {
            const Vec3d across = place(s, j) - place(s, s.roles[j].mirror);
            if (across.norm() > 0.01 * s.body.height && across.norm() > 0)
                pairs.push_back(across.normalized());
        }
    if (pairs.empty())
        return s.body.left.normalized();
    Vec3d left = Vec3d::Zero();
    for (const Vec3d& pair : pairs)
        left += pair;
    for (int round = 0; round < 50; ++round) {
        Vec3d sum = Vec3d::Zero();
        for (const Vec3d& pair : pairs)
            sum += pair / std::max((pair - left).norm(), 1e-9);
        left = sum;
        left.normalize();
    }
    return left;
}

Plane planeOf(const Subject& s) {
    Plane out;
    out.normal = leftOf(s);
    std::vector<double> middles; // their median: a joint that is off must not move the plane
    for (int j = 0; j < s.character->skeleton.size(); ++j)
        if (s.roles[j].side == Side::Left && s.roles[j].mirror >= 0)
            middles.push_back(out.normal.dot(place(s, j) + place(s, s.roles[j].mirror)) / 2);
    if (middles.empty())
        return out;
    std::nth_element(middles.begin(), middles.begin() + middles.size() / 2, middles.end());
    out.offset = middles[middles.size() / 2];
    out.known = true;
    return out;
}

int mirrorOf(const Subject& s, int joint) {
    return s.roles[joint].mirror >= 0 ? s.roles[joint].mirror : joint;
}

std::size_t partOf(const Subject& s, std::uint32_t v) {
    const auto& parts = s.character->parts;
    const auto it = std::upper_bound(parts.begin(), parts.end(), s.surface.representative(v),
                                     [](std::uint32_t x, const Part& p) { return x < p.firstVertex; });
    return static_cast<std::size_t>(it - parts.begin()) - 1;
}

double weightDifference(const Subject& s, std::uint32_t v, std::uint32_t twin) {
    const SkinWeights& w = s.surface.weights;
    double sum = 0;
    const auto held = [&](std::uint32_t at, int joint) {
        for (std::uint32_t i = w.first[at]; i < w.first[at + 1]; ++i)
            if (w.joint[i] == joint)
                return double(w.weight[i]);
        return 0.0;
    };
    for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i)
        sum += std::abs(w.weight[i] - held(twin, mirrorOf(s, w.joint[i])));
    for (std::uint32_t i = w.first[twin]; i < w.first[twin + 1]; ++i)
        if (held(v, mirrorOf(s, w.joint[i])) == 0)
            sum += w.weight[i];
    return sum / 2;
}

} // namespace

MirrorTwins mirrorTwins(const Subject& s) {
    MirrorTwins out;
    const Plane plane = planeOf(s);
    if (!plane.known)
        return out;
    double edges = 0, count = 0;
    for (const RestRing& r : s.rings)
        if (r.edge > 0) {
            edges += r.edge;
            ++count;
        }
    if (count == 0)
        return out;
    const double cell = edges / count;
    const auto keyOf = [&](const Vec3d& p, int dx, int dy, int dz) {
        const auto at = [&](int axis, int step) {
            return static_cast<std::uint64_t>(static_cast<std::int64_t>(std::floor(p[axis] / cell)) + step) &
                   0x1fffff;
        };
        return at(0, dx) << 42 | at(1, dy) << 21 | at(2, dz);
    };
    std::unordered_map<std::uint64_t, std::vector<std::uint32_t>> grid;
    for (std::uint32_t v = 0; v < s.neutral.size(); ++v)
        grid[keyOf(s.neutral[v].cast<double>(), 0, 0, 0)].push_back(v);
    out.twin.assign(s.neutral.size(), MirrorTwins::kNone);
    for (std::uint32_t v = 0; v < out.twin.size(); ++v) {
        const Vec3d wanted = plane.mirrored(s.neutral[v].cast<double>());
        if ((wanted - s.neutral[v].cast<double>()).norm() < 3 * cell)
            continue; // at the middle every vertex has to belong to one side or the other
        double least = std::max<double>(s.rings[v].edge, 0.3 * cell) / 3;
        for (int dx = -1; dx <= 1; ++dx)
            for (int dy = -1; dy <= 1; ++dy)
                for (int dz = -1; dz <= 1; ++dz)
                    if (const auto it = grid.find(keyOf(wanted, dx, dy, dz)); it != grid.end())
                        for (std::uint32_t o : it->second)
                            if (const double d = (s.neutral[o].cast<double>() - wanted).norm(); d < least) {
                                const auto p = partOf(s, v), q = partOf(s, o);
                                const auto& parts = s.character->parts;
                                if (p != q && parts[p].vertexCount != parts[q].vertexCount)
                                    continue;
                                least = d;
                                out.twin[v] = o;
                            }
    }
    return out;
}

SideDifference sideDifference(const Subject& s, const MirrorTwins& twins, const Finding& f) {
    SideDifference out;
    if (twins.twin.empty())
        return out;
    const Surface& surface = s.surface;
    std::vector<char> marked(surface.vertexCount(), 0);
    for (std::uint32_t t : f.triangles)
        for (std::uint32_t v : surface.triangles[t])
            marked[v] = 1;
    std::vector<std::uint32_t> queue;
    std::vector<char> met(surface.vertexCount(), 0), garment(surface.vertexCount(), 0);
    const auto start = [&](std::uint32_t v) {
        if (!met[v] && twins.twin[v] != MirrorTwins::kNone &&
            weightDifference(s, v, twins.twin[v]) > kDiffers) {
            met[v] = 1;
            queue.push_back(v);
        }
    };
    for (std::uint32_t v = 0; v < marked.size(); ++v)
        if (marked[v])
            start(v);
    std::vector<char> outer(s.character->parts.size(), 0);
    for (std::uint32_t p : s.cover->outer)
        outer[p] = 1;
    for (std::uint32_t v = 0; v < garment.size(); ++v)
        garment[v] = outer[partOf(s, v)];
    for (const Covered& c : s.cover->covered) { // what lies above and below the marked skin as well
        const Triangle& above = surface.triangles[c.triangle];
        if (marked[c.vertex])
            for (std::uint32_t v : above)
                start(v);
        if (marked[above[0]] || marked[above[1]] || marked[above[2]])
            start(c.vertex);
    }
    std::vector<std::uint32_t> skin;
    double skinSum = 0, garmentSum = 0, garmentCount = 0;
    while (!queue.empty()) {
        const std::uint32_t v = queue.back();
        queue.pop_back();
        const double d = weightDifference(s, v, twins.twin[v]);
        if (garment[v]) {
            garmentSum += d;
            ++garmentCount;
        } else {
            skinSum += d;
            skin.push_back(v);
        }
        for (auto n = surface.neighbours.begin(v); n != surface.neighbours.end(v); ++n)
            start(*n);
    }
    out.garment = garmentCount > 2 ? garmentSum / garmentCount : 0;
    if (skin.size() < 3)
        return out;
    out.skin = skinSum / static_cast<double>(skin.size());
    // Whose skin: the joint whose following differs most, over all of it.
    double most = 0;
    for (int j = 0; j < s.character->skeleton.size(); ++j) {
        const int m = mirrorOf(s, j);
        const bool across =
            f.side != Side::Middle && s.roles[j].side != f.side; // of a limb's skin, the limb's own joints
        if (!s.roles[j].movesSkin || s.roles[j].role == Role::Twist || s.roles[j].role == Role::Helper ||
            s.roles[j].oneWith >= 0 || across || s.character->skeleton.boneDistance(j, f.joint) > 3)
            continue;
        const auto here = s.character->skeleton.subtree(j), there = s.character->skeleton.subtree(m);
        double sum = 0, less = 0, harder = 0;
        for (std::uint32_t v : skin) {
            const double own = surface.weightOn(v, here), other = surface.weightOn(twins.twin[v], there);
            sum += std::abs(own - other);
            less += std::max(0.0, other - own);
            harder += std::abs(own - 0.5) - std::abs(other - 0.5);
        }
        if (sum > 1.02 * most) { // of joints whose skin is the same, the first
            most = sum;
            out.joint = j;
            out.mean = sum / static_cast<double>(skin.size());
            out.less = less / sum;
            out.harder = harder / sum;
        }
    }
    if (out.joint >= 0) {
        const JointZone& zone = s.zones[static_cast<std::size_t>(out.joint)];
        Vec3d ways = Vec3d::Zero();
        for (std::uint32_t v : skin) {
            Vec3d d = s.neutral[v].cast<double>() - place(s, out.joint);
            d -= d.dot(zone.axis) * zone.axis;
            if (d.norm() > 1e-12)
                ways += d.normalized();
        }
        out.around = 1 - ways.norm() / static_cast<double>(skin.size());
    }
    return out;
}

double offMirror(const Subject& s, int joint) {
    const Plane plane = planeOf(s);
    const int mirror = s.roles[joint].mirror;
    const double radius = std::max(s.zones[joint].limbRadius, mirror >= 0 ? s.zones[mirror].limbRadius : 0);
    if (!plane.known || mirror < 0 || radius <= 0)
        return 0;
    return (plane.mirrored(place(s, mirror)) - place(s, joint)).norm() / radius;
}

} // namespace hobble
