// Weights too small to be seen.
#include "core/intake/collect.h"

namespace hobble {

CheckFindings checkNegligibleWeights(const Subject& s, const IntakeLimits& limits) {
    const Character& c = *s.character;
    Places places(c);
    for (std::uint32_t v = 0; v < c.vertexCount(); ++v)
        for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
            if (c.weights.weight[i] < limits.leastWeight) {
                places.add(v);
                break;
            }
    const std::size_t n = places.count();
    if (n < 200 && n * 20 < c.vertexCount()) // a few at the foot of every ramp
        return {};
    return {{tableWord("negligible weights"), 1, -1, -1, places.take(), static_cast<double>(n),
             say("%zu vertices have weights below %.4f, which cost time and move nothing that can be seen.",
                 n, limits.leastWeight),
             say("Drop weights below the limit and normalise what stays.")}};
}

} // namespace hobble
