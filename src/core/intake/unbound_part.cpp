// Parts that nothing moves.
#include "core/intake/collect.h"

namespace hobble {

CheckFindings checkUnboundParts(const Subject& s, const IntakeLimits&) {
    const Character& c = *s.character;
    CheckFindings out;
    if (c.skeleton.size() == 0)
        return out;
    for (std::size_t p = 0; p < c.parts.size(); ++p) {
        const Part& part = c.parts[p];
        std::uint32_t held = 0;
        for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v)
            held += c.weights.first[v] != c.weights.first[v + 1];
        if (held > 0)
            continue;
        CheckFinding f{"part bound to nothing",
                       4,
                       -1,
                       static_cast<int>(p),
                       {},
                       0,
                       "'" + part.name + "' is bound to no joint: it stays behind when the character moves.",
                       say("Bind it, rigidly if it must not bend, to the joint it sits on.")};
        for (std::uint32_t v = 0; v < part.vertexCount; ++v) {
            if (f.vertices.empty())
                f.vertices.push_back({static_cast<int>(p), {}});
            f.vertices[0].second.push_back(v);
        }
        out.push_back(std::move(f));
    }
    return out;
}

} // namespace hobble
