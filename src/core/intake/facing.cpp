// Skin that faces inwards. It is measured as if it were turned about; the engine will not draw it.
#include "core/intake/collect.h"

namespace hobble {

CheckFindings checkFacing(const Subject& s, const IntakeLimits&) {
    const Character& c = *s.character;
    const Surface& f = s.surface;
    std::map<int, std::pair<std::size_t, std::size_t>> byPart; // turned, all
    for (std::size_t t = 0; t < f.triangles.size(); ++t) {
        auto& [in, all] = byPart[c.partOfVertex(c.triangles[f.fileTriangle[t]][0])];
        in += f.turned[t] != 0;
        ++all;
    }
    CheckFindings out;
    for (const auto& [part, counts] : byPart) {
        const auto [in, all] = counts;
        if (!in)
            continue;
        Places places(c);
        std::map<int, double> at;
        for (std::size_t t = 0; t < f.triangles.size(); ++t)
            if (f.turned[t] && c.partOfVertex(c.triangles[f.fileTriangle[t]][0]) == part)
                for (std::uint32_t v : c.triangles[f.fileTriangle[t]]) {
                    places.add(v);
                    for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
                        at[c.weights.joint[i]] += c.weights.weight[i];
                }
        const auto most = std::max_element(at.begin(), at.end(),
                                           [](const auto& a, const auto& b) { return a.second < b.second; });
        const char* name = c.parts[static_cast<std::size_t>(part)].name.c_str();
        out.push_back({.check = tableWord("faces that look inwards"),
                       .severity = 3,
                       .joint = most == at.end() ? -1 : most->first,
                       .part = part,
                       .vertices = places.take(),
                       .value = static_cast<double>(in),
                       .sentence = in == all
                                       ? say("All faces of '%s' look inwards.", name)
                                       : say("%zu of the %zu faces of '%s' look inwards.", in, all, name),
                       .advice = say("Turn them about. They are measured as if they were.")});
    }
    return out;
}

} // namespace hobble
