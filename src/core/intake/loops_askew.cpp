// Edge loops that run askew of the axis a hinge bends about: it folds along them in zigzag, whatever the
// weights are. Only of hinges: what bends every way has no axis for loops to follow.
#include "core/intake/collect.h"
#include "core/measure/edge_flow.h"
#include "core/pose/motion.h"

namespace hobble {

CheckFindings checkLoopsAskew(const Subject& s, const IntakeLimits& limits) {
    const Character& c = *s.character;
    CheckFindings out;
    EdgeFlow rings(s);
    std::vector<char> told(static_cast<std::size_t>(c.skeleton.size()), 0);
    for (const Motion& m : defaultPlan(c, s.roles).motions) {
        const int j = m.turns.front().joint;
        const Role role = s.roles[static_cast<std::size_t>(j)].role;
        const bool hinge = role == Role::Elbow || role == Role::Knee || role == Role::Fetlock ||
                           role == Role::Finger || role == Role::Thumb;
        const auto axis = bendAxis(s, m, j);
        if (!hinge || m.turns.size() > 1 || !axis || told[static_cast<std::size_t>(j)])
            continue;
        told[static_cast<std::size_t>(j)] = 1; // one bend is as good as its way back
        const double askew = degreesAskew(rings.ringsAt(j), *axis);
        if (askew <= limits.loopDegrees)
            continue;
        Places places(c);
        for (std::uint32_t v : s.zones[static_cast<std::size_t>(j)].blendVertices)
            places.add(s.surface.representative(v));
        out.push_back(
            {.check = tableWord("edge loops askew of the bend"),
             .severity = askew > 1.6 * limits.loopDegrees ? 3 : 2,
             .joint = j,
             .vertices = places.take(),
             .value = askew,
             .sentence = say("Edge loops run %.0f° askew of the bend of %s; it will fold in zigzag.", askew,
                             c.skeleton.name[static_cast<std::size_t>(j)].c_str()),
             .advice = say("Lay the loops round the limb: the modeller's.")});
    }
    return out;
}

} // namespace hobble
