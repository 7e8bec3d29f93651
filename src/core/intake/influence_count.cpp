// More influences at a vertex than the target engine takes.
#include "core/intake/collect.h"

namespace hobble {

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
    return {{tableWord("too many influences"), 2, joint, -1, places.take(), static_cast<double>(most),
             say("%zu vertices have more than %.0f influences, up to %u; most of them at %s. An engine drops "
                 "the rest.",
                 n, limits.mostInfluences, most, c.skeleton.name[joint].c_str()),
             say("Keep the heaviest influences and normalise, then look at the joint again.")}};
}

} // namespace hobble
