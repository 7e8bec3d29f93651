// Skin held by a joint many bones away from the joint it belongs to, far from that joint's bone. Good weights
// fade out, however far they reach; what starts anew somewhere else (core/measure/weight_islands.h) is told.
#include "core/intake/collect.h"

#include <cmath>

namespace hobble {

CheckFindings checkFarInfluences(const Subject& s, const IntakeLimits& limits) {
    const Character& c = *s.character;
    const Skeleton& sk = c.skeleton;
    struct Here {
        std::vector<std::uint32_t> vertices; // of the file
        double most = 0;
        std::map<int, std::size_t> own;
    };
    std::map<int, Here> at; // by the joint that reaches too far
    for (const WeightIsland& island : s.islands) {
        if (!island.far)
            continue;
        const Vec3d joint = sk.neutralWorld[island.joint].translation();
        for (std::uint32_t w : island.vertices) {
            const std::uint32_t v = s.surface.representative(w);
            int own = -1;
            double share = 0;
            for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
                if (c.weights.joint[i] == island.joint)
                    share = c.weights.weight[i];
                else if (own < 0)
                    own = c.weights.joint[i];
            const int bones = own < 0 ? -1 : sk.boneDistance(own, island.joint);
            if ((own >= 0 && bones >= 0 && bones <= limits.farBones) || share < limits.leastWeight ||
                (s.neutral[w].cast<double>() - joint).norm() < limits.farDistance * s.body.height)
                continue;
            Here& h = at[island.joint];
            h.vertices.insert(h.vertices.end(), s.surface.members.begin(w), s.surface.members.end(w));
            h.most = std::max(h.most, share);
            if (own >= 0)
                ++h.own[own];
        }
    }
    CheckFindings out;
    for (auto& [j, h] : at) {
        Places places(c);
        for (std::uint32_t v : h.vertices)
            places.add(v);
        const std::size_t n = h.vertices.size();
        std::string sentence =
            say("%s holds %s far from it by up to %.0f %%", sk.name[j].c_str(),
                counted(n, tableWord("one vertex"), manyOf("%n vertices")).c_str(), 100 * h.most);
        if (!h.own.empty())
            sentence +=
                ", skin of " +
                sk.name[std::max_element(h.own.begin(), h.own.end(), [](const auto& a, const auto& b) {
                            return a.second < b.second;
                        })->first];
        out.push_back({.check = tableWord("influence from far away"),
                       .severity = h.most > 0.2 ? 3 : 2,
                       .joint = j,
                       .vertices = places.take(),
                       .value = h.most,
                       .sentence = sentence + ".",
                       .advice = say("Take the influence away and normalise.")});
    }
    return out;
}

} // namespace hobble
