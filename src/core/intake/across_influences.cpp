// Skin clearly on one side of the body, held by a joint of the other. Near the middle both sides share the
// skin, and fade; what is told holds much, or starts anew over there (core/measure/weight_islands.h).
#include "core/intake/collect.h"

#include <cmath>

namespace hobble {

CheckFindings checkAcrossInfluences(const Subject& s, const IntakeLimits& limits) {
    const Character& c = *s.character;
    if (!s.mirror.found)
        return {};
    const auto sideOfJoint = [&](int j) { // by place, which does not lie
        const double d = s.mirror.distance(c.skeleton.neutralWorld[j].translation());
        return s.roles[j].side == Side::Middle || std::abs(d) < limits.acrossDistance * s.body.height
                   ? 0
                   : (d > 0 ? 1 : -1);
    };
    std::map<int, std::vector<char>> onIsland; // joint → per welded vertex
    for (const WeightIsland& island : s.islands)
        if (sideOfJoint(island.joint) != 0) {
            auto& flags = onIsland[island.joint];
            flags.resize(s.surface.vertexCount(), 0);
            for (std::uint32_t w : island.vertices)
                flags[w] = 1;
        }
    constexpr float much = 0.25f;
    struct Here {
        std::vector<std::uint32_t> vertices;
        double most = 0;
    };
    std::map<int, Here> at;
    for (std::uint32_t v = 0; v < c.vertexCount(); ++v) {
        const double d = s.mirror.distance(c.neutral[v].cast<double>());
        if (std::abs(d) < limits.acrossDistance * s.body.height)
            continue;
        const std::uint32_t first = c.weights.first[v];
        // skin whose own joint is over there hangs there: a tail, a strap, a folded hand
        if (first < c.weights.first[v + 1] && sideOfJoint(c.weights.joint[first]) * d < 0 &&
            c.weights.weight[first] > 0.5f)
            continue;
        for (std::uint32_t i = first; i < c.weights.first[v + 1]; ++i)
            if (c.weights.weight[i] > std::max(0.02, limits.leastWeight) &&
                sideOfJoint(c.weights.joint[i]) * d < 0) {
                const auto island = onIsland.find(c.weights.joint[i]);
                if (c.weights.weight[i] < much &&
                    (island == onIsland.end() || !island->second[s.surface.weldOf[v]]))
                    continue;
                Here& h = at[c.weights.joint[i]];
                h.vertices.push_back(v);
                h.most = std::max<double>(h.most, c.weights.weight[i]);
            }
    }
    CheckFindings out;
    for (auto& [j, h] : at) {
        Places places(c);
        for (std::uint32_t v : h.vertices)
            places.add(v);
        out.push_back(
            {.check = tableWord("influence from the other side"),
             .severity = h.most > 0.2 ? 3 : 2,
             .joint = j,
             .vertices = places.take(),
             .value = h.most,
             .sentence = say(
                 "%s holds %s on the other side of the body by up to %.0f %%.", c.skeleton.name[j].c_str(),
                 counted(h.vertices.size(), tableWord("one vertex"), manyOf("%n vertices")).c_str(),
                 100 * h.most),
             .advice = say("Take the influence away, or mirror the weights from the good side.")});
    }
    return out;
}

} // namespace hobble
