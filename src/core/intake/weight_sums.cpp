// Weights whose sum is not 1.
#include "core/intake/collect.h"

#include <cmath>

namespace hobble {

CheckFindings checkWeightSums(const Subject& s, const IntakeLimits& limits) {
    const Character& c = *s.character;
    Places places(c);
    double worst = 0;
    for (std::uint32_t v = 0; v < c.vertexCount(); ++v) {
        const double off = std::abs(c.weights.fileSum[v] - 1);
        if (c.weights.first[v] == c.weights.first[v + 1] || off <= limits.sumTolerance)
            continue;
        worst = std::max(worst, off);
        places.add(v);
    }
    if (!places.count())
        return {};
    const std::size_t n = places.count();
    return {{tableWord("weights that do not sum to 1"), worst > 0.05 ? 3 : 2, -1, -1, places.take(), worst,
             say("The weights of %zu vertices do not sum to 1; the farthest is off by %.3f.", n, worst),
             say("Normalise the weights and export again: engines differ in what they make of such sums.")}};
}

} // namespace hobble
