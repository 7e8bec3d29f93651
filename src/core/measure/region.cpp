#include "core/measure/region.h"

#include "core/deform/detail_smoothing.h"
#include "core/measure/follow.h"

#include <atomic>

namespace hobble {

namespace {

// Smoothing carries what moves on to its neighbours, a ring with each pass.
void spread(const Subject& s, const DetailSmoothing& smoothing, const std::vector<std::vector<float>>& follow,
            std::vector<char>& in) {
    std::vector<char> carries(in.size(), 0), from = in;
    for (std::uint32_t v : smoothing.moved())
        carries[s.surface.weldOf[v]] = 1;
    for (const auto& share : follow)
        for (const Triangle& f : s.surface.triangles) // what is cut gives way on both sides
            if (std::abs(share[f[0]] - share[f[1]]) > 1e-4f || std::abs(share[f[1]] - share[f[2]]) > 1e-4f)
                from[f[0]] = from[f[1]] = from[f[2]] = 1;
    std::vector<std::uint32_t> rim, next;
    for (std::uint32_t v = 0; v < from.size(); ++v)
        if (from[v]) {
            in[v] |= carries[v];
            rim.push_back(v);
        }
    for (int pass = 0; pass < smoothing.wish().passes && !rim.empty(); ++pass, rim.swap(next)) {
        next.clear();
        for (std::uint32_t v : rim)
            for (auto n = s.surface.neighbours.begin(v); n != s.surface.neighbours.end(v); ++n)
                if (carries[*n] && !in[*n]) {
                    in[*n] = 1;
                    next.push_back(*n);
                }
    }
}

} // namespace

MotionRegion motionRegion(const Subject& s, const Motion& motion) {
    const Character& c = *s.character;
    static std::atomic<std::uint64_t> made{0};
    MotionRegion r;
    r.id = ++made;
    std::vector<char> in(s.surface.vertexCount(), 0);
    r.shaped.assign(in.size(), 0);
    const auto shape = [&](int part, int target) {
        const Part& p = c.parts[static_cast<std::size_t>(part)];
        for (std::uint32_t v : p.targets[static_cast<std::size_t>(target)].vertex)
            in[s.surface.weldOf[p.firstVertex + v]] = r.shaped[s.surface.weldOf[p.firstVertex + v]] = 1;
    };
    for (const JointTurn& turn : motion.turns) {
        r.follow.push_back(following(s.surface, followShares(c, turn.joint, motion.axisOf(turn))));
        for (std::size_t v = 0; v < in.size(); ++v)
            in[v] |= r.follow.back()[v] > 1e-4f && r.follow.back()[v] < 1 - 1e-4f;
        // Shapes that fade in, directly or through a joint that follows.
        std::vector<char> turning(c.skeleton.name.size(), 0);
        turning[turn.joint] = 1;
        for (const Driver& d : c.drivers) {
            const Vec3d* axis = motion.axisOf(turn);
            if (!turning[d.source] ||
                (axis && d.source == turn.joint && d.poses.empty() && std::abs(d.about.dot(*axis)) < 1e-3))
                continue;
            if (d.output != Driver::Output::Target) {
                turning[d.joint] = 1;
                // what hangs on it moves against its neighbours
                const auto below = c.skeleton.subtree(d.joint);
                for (std::uint32_t v = 0; v < in.size(); ++v)
                    in[v] |= s.surface.weightOn(v, below) > 1e-4;
                continue;
            }
            shape(d.part, d.target);
        }
    }
    for (const TargetShare& t : motion.targets)
        shape(t.part, t.target);
    if (motion.keys)
        for (const MotionKey& key : *motion.keys)
            for (const TargetWeight& t : key.pose.targets)
                shape(t.part, t.target);
    for (const auto& smoothing : c.extras.smoothing)
        spread(s, *smoothing, r.follow, in);
    // One ring more: a vertex that moves rigidly beside one that does not has triangles that stretch.
    std::vector<char> triangle(s.surface.triangles.size(), 0);
    for (std::uint32_t t = 0; t < triangle.size(); ++t) {
        const Triangle& f = s.surface.triangles[t];
        triangle[t] = in[f[0]] || in[f[1]] || in[f[2]];
        for (const auto& follow : r.follow) // or a cut from wholly here to wholly there
            triangle[t] |= std::abs(follow[f[0]] - follow[f[1]]) > 1e-4f ||
                           std::abs(follow[f[1]] - follow[f[2]]) > 1e-4f;
    }
    std::vector<char> corner(in.size(), 0);
    for (std::uint32_t t = 0; t < triangle.size(); ++t)
        if (triangle[t]) {
            r.triangles.push_back(t);
            for (std::uint32_t v : s.surface.triangles[t])
                corner[v] = 1;
        }
    r.numberOf.assign(in.size(), MotionRegion::kNone);
    for (std::uint32_t v = 0; v < in.size(); ++v)
        if (corner[v]) {
            r.numberOf[v] = static_cast<std::uint32_t>(r.vertices.size());
            r.vertices.push_back(v);
        }
    for (std::uint32_t t : r.triangles) {
        const Triangle& f = s.surface.triangles[t];
        r.corners.push_back(f);
        r.numbers.push_back({r.numberOf[f[0]], r.numberOf[f[1]], r.numberOf[f[2]]});
        r.rest.push_back(s.rest[t]);
    }
    return r;
}

} // namespace hobble
