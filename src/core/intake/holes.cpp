// Holes: loops of edges that have a triangle on one side only, small, or unlike anything on the other side of
// the body. Necklines, sleeves and hems are large beside their part or mirrored, and meant.
#include "core/intake/collect.h"

#include <cmath>
#include <unordered_map>

namespace hobble {

CheckFindings checkHoles(const Subject& s, const IntakeLimits&) {
    const Character& c = *s.character;
    const Surface& f = s.surface;
    std::unordered_map<std::uint64_t, int> uses; // directed edge → how often
    const auto key = [](std::uint32_t a, std::uint32_t b) { return static_cast<std::uint64_t>(a) << 32 | b; };
    for (const Triangle& t : f.triangles)
        for (int k = 0; k < 3; ++k)
            if (!f.wholeRing[t[k]] && !f.wholeRing[t[(k + 1) % 3]])
                ++uses[key(t[k], t[(k + 1) % 3])];
    std::map<std::uint32_t, std::vector<std::uint32_t>> next; // along the border
    for (const auto& [edge, n] : uses) {
        const auto a = static_cast<std::uint32_t>(edge >> 32), b = static_cast<std::uint32_t>(edge);
        if (!uses.count(key(b, a)))
            next[b].push_back(a);
    }
    std::vector<double> extent(f.shellCount, 0.0);
    {
        std::vector<Vec3> low(f.shellCount, Vec3::Constant(1e30f)),
            high(f.shellCount, Vec3::Constant(-1e30f));
        for (std::size_t v = 0; v < f.vertexCount(); ++v) {
            low[f.shellOf[v]] = low[f.shellOf[v]].cwiseMin(s.neutral[v]);
            high[f.shellOf[v]] = high[f.shellOf[v]].cwiseMax(s.neutral[v]);
        }
        for (std::size_t k = 0; k < extent.size(); ++k)
            extent[k] = (high[k] - low[k]).norm();
    }
    struct Loop {
        std::vector<std::uint32_t> vertices; // welded
        double round = 0;
        Vec3d middle = Vec3d::Zero();
    };
    std::vector<Loop> loops;
    for (auto& [start, list] : next)
        while (!list.empty()) {
            Loop loop;
            std::uint32_t v = start;
            do {
                auto it = next.find(v);
                if (it == next.end() || it->second.empty())
                    break;
                const std::uint32_t w = it->second.back();
                it->second.pop_back();
                loop.round += (s.neutral[w] - s.neutral[v]).norm();
                loop.vertices.push_back(w);
                loop.middle += s.neutral[w].cast<double>();
                v = w;
            } while (v != start && loop.vertices.size() < 4096);
            if (v != start || loop.vertices.size() < 3)
                continue; // no ring
            loop.middle /= static_cast<double>(loop.vertices.size());
            loops.push_back(std::move(loop));
        }
    // An opening that is mirrored, or mirrors itself, is meant: sockets, sleeves, a neck.
    const auto meant = [&](const Loop& loop) {
        if (!s.mirror.found)
            return false;
        const Vec3d there = s.mirror.mirrored(loop.middle);
        return std::any_of(loops.begin(), loops.end(), [&](const Loop& other) {
            return (other.middle - there).norm() < 0.05 * loop.round &&
                   std::abs(other.round - loop.round) < 0.1 * loop.round;
        });
    };
    CheckFindings out;
    for (const Loop& loop : loops) {
        const double size = extent[f.shellOf[loop.vertices[0]]];
        const bool small = loop.vertices.size() <= 12 && loop.round < 0.12 * size;
        if (!small && (loop.vertices.size() > 64 || loop.round > 0.6 * size || meant(loop)))
            continue;
        if (loop.vertices.size() > 12 && !s.mirror.found)
            continue;
        Places places(c);
        for (std::uint32_t w : loop.vertices)
            for (auto m = f.members.begin(w); m != f.members.end(w); ++m)
                places.add(*m);
        const int part = c.partOfVertex(f.representative(loop.vertices[0]));
        out.push_back({.check = tableWord("hole"),
                       .severity = 2,
                       .part = part,
                       .vertices = places.take(),
                       .value = static_cast<double>(loop.vertices.size()),
                       .sentence = say("'%s' has a hole of %zu edges, %.1f cm round.",
                                       c.parts[part].name.c_str(), loop.vertices.size(), 100 * loop.round),
                       .advice = say("Close it, or say in the notes that it is meant: volume is not defined "
                                     "for a skin that is open.")});
    }
    if (out.size() > 24) { // a sieve is told once
        CheckFinding all = out.front();
        all.vertices.clear();
        Places places(c);
        for (const CheckFinding& h : out)
            for (const auto& [part, list] : h.vertices)
                for (std::uint32_t v : list)
                    places.add(c.parts[part].firstVertex + v);
        all.part = -1;
        all.vertices = places.take();
        all.value = static_cast<double>(out.size());
        all.sentence = say("The skin has %zu holes.", out.size());
        return {all};
    }
    return out;
}

} // namespace hobble
