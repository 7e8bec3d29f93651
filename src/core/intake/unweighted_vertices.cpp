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
        out.push_back({"vertices with no weight", 4, -1, static_cast<int>(p), places.take(),
                       static_cast<double>(n),
                       say("%s of '%s' %s no weight and %s behind.", counted(n, "vertex", "vertices").c_str(),
                           part.name.c_str(), n == 1 ? "has" : "have", n == 1 ? "stays" : "stay"),
                       "Give them the weights of their neighbours."});
    }
    return out;
}

} // namespace hobble
