// What is wrong with the numbers of the weights: sums, dust, and more influences than an engine takes.
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
    return {{"weights that do not sum to 1", worst > 0.05 ? 3 : 2, -1, -1, places.take(), worst,
             words("The weights of %zu vertices do not sum to 1; the farthest is off by %.3f.", n, worst),
             "Normalise the weights and export again: engines differ in what they make of such sums."}};
}

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
    return {{"negligible weights", 1, -1, -1, places.take(), static_cast<double>(n),
             words("%zu vertices have weights below %.4f, which cost time and move nothing that can be seen.",
                   n, limits.leastWeight),
             "Prune small weights and normalise."}};
}

CheckFindings checkInfluenceCount(const Subject& s, const IntakeLimits& limits) {
    const Character& c = *s.character;
    Places places(c);
    std::map<int, std::size_t> heaviest; // joint → vertices, for where it is
    std::uint32_t most = 0;
    for (std::uint32_t v = 0; v < c.vertexCount(); ++v) {
        const std::uint32_t n = c.weights.first[v + 1] - c.weights.first[v];
        if (n <= static_cast<std::uint32_t>(limits.mostInfluences))
            continue;
        most = std::max(most, n);
        ++heaviest[c.weights.joint[c.weights.first[v]]];
        places.add(v);
    }
    if (!places.count())
        return {};
    const int joint = std::max_element(heaviest.begin(), heaviest.end(), [](const auto& a, const auto& b) {
                          return a.second < b.second;
                      })->first;
    const std::size_t n = places.count();
    return {{"too many influences", 2, joint, -1, places.take(), static_cast<double>(most),
             words("%zu vertices have more than %d influences, up to %u; most of them at %s. An engine drops "
                   "the rest.",
                   n, limits.mostInfluences, most, c.skeleton.name[joint].c_str()),
             "Keep the heaviest influences and normalise, then look at the joint again."}};
}

} // namespace hobble
