#include "core/measure/touching.h"

#include "core/disjoint_sets.h"

#include <algorithm>

namespace hobble {

std::vector<std::vector<std::uint32_t>> touching(const Surface& surface,
                                                 const std::vector<std::uint32_t>& marked) {
    // Disjoint sets over the marked triangles; those at one vertex are one. The vertices' own lists are
    // sorted pairs rather than a table over the whole surface: a patch is small.
    std::vector<std::pair<std::uint32_t, std::uint32_t>> at; // vertex, number of the triangle
    at.reserve(3 * marked.size());
    for (std::uint32_t i = 0; i < marked.size(); ++i)
        for (std::uint32_t v : surface.triangles[marked[i]])
            at.push_back({v, i});
    std::sort(at.begin(), at.end());
    DisjointSets sets(marked.size());
    for (std::size_t i = 1; i < at.size(); ++i)
        if (at[i].first == at[i - 1].first) {
            const std::uint32_t a = sets.find(at[i].second), b = sets.find(at[i - 1].second);
            sets.join(std::max(a, b), std::min(a, b)); // so that the least is the root, and comes first
        }
    std::vector<std::vector<std::uint32_t>> out;
    std::vector<std::uint32_t> group(marked.size());
    for (std::uint32_t i = 0; i < marked.size(); ++i) {
        const std::uint32_t r = sets.find(i);
        if (r == i) {
            group[i] = static_cast<std::uint32_t>(out.size());
            out.emplace_back();
        }
        out[group[r]].push_back(marked[i]);
    }
    return out;
}

std::vector<std::uint8_t> turnOfTriangles(const Subject& s, const Motion& motion,
                                          const MotionRegion& region) {
    std::vector<std::uint8_t> out;
    if (motion.turns.size() < 2)
        return out;
    out.assign(s.surface.triangles.size(), 0);
    for (std::uint32_t t : region.triangles) {
        float most = -1;
        for (std::size_t k = 0; k < std::min<std::size_t>(motion.turns.size(), 255); ++k) {
            if (s.zones[static_cast<std::size_t>(motion.turns[k].joint)].empty())
                continue; // it moves as a whole and bends nothing
            float blend = 0;
            for (std::uint32_t v : s.surface.triangles[t])
                blend += region.follow[k][v] * (1 - region.follow[k][v]);
            if (blend > most) {
                most = blend;
                out[t] = static_cast<std::uint8_t>(k);
            }
        }
    }
    return out;
}

int jointOfPatch(const Subject& s, const Motion& motion, const std::vector<std::uint8_t>& turnOf,
                 const std::vector<std::uint32_t>& triangles) {
    for (const WeightIsland& island : s.islands) {
        if (!island.far || island.share < 0.05 ||
            std::all_of(motion.turns.begin(), motion.turns.end(), [&](const JointTurn& t) {
                return t.joint != island.joint &&
                       s.character->skeleton.subtree(island.joint)[static_cast<std::size_t>(t.joint)];
            })) // what lies above all that turns stays where it is: the skin below it is told at what turns
            continue;
        std::size_t on = 0;
        for (std::uint32_t t : triangles)
            for (std::uint32_t v : s.surface.triangles[t])
                on += std::binary_search(island.vertices.begin(), island.vertices.end(), v);
        if (on >= triangles.size()) // a third of its corners
            return island.joint;
    }
    if (turnOf.empty())
        return motion.turns.front().joint;
    std::vector<double> held(motion.turns.size(), 0);
    for (std::uint32_t t : triangles)
        held[turnOf[t]] += s.surface.area[t] + 1e-12;
    return motion.turns[static_cast<std::size_t>(std::max_element(held.begin(), held.end()) - held.begin())]
        .joint;
}

} // namespace hobble
