// Skin held by a joint that, by its name, only marks the end of a chain. (Its role is another then: what
// holds skin is tested.)
#include "core/character/skeleton_words.h"
#include "core/intake/collect.h"

namespace hobble {

CheckFindings checkEndJointWeights(const Subject& s, const IntakeLimits&) {
    const Character& c = *s.character;
    CheckFindings out;
    const auto children = c.skeleton.children();
    const std::vector<char> named = endsByName(c.skeleton);
    for (int j = 0; j < c.skeleton.size(); ++j) {
        if (!named[static_cast<std::size_t>(j)] || !children[j].empty())
            continue;
        Places places(c);
        double most = 0;
        for (std::uint32_t v = 0; v < c.vertexCount(); ++v)
            for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
                if (c.weights.joint[i] == j && c.weights.weight[i] > 0.02f) {
                    most = std::max<double>(most, c.weights.weight[i]);
                    places.add(v);
                }
        if (!places.count())
            continue;
        const std::size_t n = places.count();
        out.push_back({"weights on an end joint", 2, j, -1, places.take(), most,
                       say("%zu vertices are held by %s, which only marks the end of a chain; up to %.0f %%.",
                           n, c.skeleton.name[j].c_str(), 100 * most),
                       "Hand these weights to the joint above it."});
    }
    return out;
}

} // namespace hobble
