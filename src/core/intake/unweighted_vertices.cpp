// Vertices that nothing moves, in a part that moves.
#include "core/intake/collect.h"

namespace hobble {

CheckFindings checkUnweightedVertices(const Subject& s, const IntakeLimits&) {
    const Character& c = *s.character;
    CheckFindings out;
    for (std::size_t p = 0; p < c.parts.size(); ++p) {
        const Part& part = c.parts[p];
        Places places(c);
        for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v)
            if (c.weights.first[v] == c.weights.first[v + 1])
                places.add(v);
        const std::size_t n = places.count();
        if (n == 0 || n == part.vertexCount)
            continue;
        out.push_back(
            {tableWord("vertices with no weight"), 4, -1, static_cast<int>(p), places.take(),
             static_cast<double>(n),
             n == 1 ? say("One vertex of '%s' has no weight and stays behind.", part.name)
                    : sayMany(n, manyOf("%n vertices of '%s' have no weight and stay behind."), part.name),
             say("Give them the weights of their neighbours.")});
    }
    return out;
}

} // namespace hobble
