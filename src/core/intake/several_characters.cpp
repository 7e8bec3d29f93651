// Two characters in one file: what is left and right, which way the body faces and how tall it is are read of
// both together, and are neither's.
#include "core/character/body.h"
#include "core/intake/collect.h"

namespace hobble {

CheckFindings checkSeveralCharacters(const Subject& s, const IntakeLimits&) {
    const Character& c = *s.character;
    const std::vector<int> roots = rootsOfBodies(c, s.roles);
    if (roots.size() < 2)
        return {};
    std::string names;
    for (std::size_t i = 0; i < roots.size(); ++i)
        names += (i == 0                  ? ""
                  : i + 1 == roots.size() ? " and "
                                          : ", ") +
                 c.skeleton.name[static_cast<std::size_t>(roots[i])];
    Places places(c);
    const std::vector<char> below = c.skeleton.subtree(roots[1]);
    for (std::uint32_t v = 0; v < c.vertexCount(); ++v)
        if (const std::uint32_t first = c.weights.first[v];
            first < c.weights.first[v + 1] && below[c.weights.joint[first]])
            places.add(v);
    return {{.check = tableWord("several characters in one file"),
             .severity = 4,
             .joint = roots[1],
             .vertices = places.take(),
             .value = static_cast<double>(roots.size()),
             .sentence = say(
                 "The file holds %zu characters, below %s: they are read as one body, whose sides, height "
                 "and way of facing are neither's.",
                 roots.size(), names.c_str()),
             .advice = say("Export each to a file of its own.")}};
}

} // namespace hobble
