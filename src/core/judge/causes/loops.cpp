// Loops that do not follow the bend: what folds there is the mesh, and no weights mend it.
#include "core/judge/causes/case.h"

#include <algorithm>

namespace hobble {

void askLoops(const Case& c, Causes& found) {
    const auto axis = bendAxis(c.subject, c.motion, c.joint());
    if ((!c.ofTheShape() && c.finding.kind != Kind::Roughness) || !axis)
        return;
    const double askew = degreesAskew(c.context.once->ringsAt(c.joint()), *axis);
    if (askew <= kEdgesAskew)
        return;
    std::optional<double> other;
    if (c.mirror() >= 0)
        if (const auto& rings = c.context.once->ringsAt(c.mirror()); !rings.empty())
            other = degreesAskew(rings, *axis - 2 * c.subject.body.left.dot(*axis) * c.subject.body.left);
    constexpr double unlike = 8; // degrees from the other side
    const bool alone = other && askew > *other + unlike;
    found.push_back({CauseKind::LoopsAskew,
                     std::min(0.9, (alone ? 0.7 : 0.5) + 0.015 * (askew - kEdgesAskew)),
                     fact::EdgesAskew{askew, other}});
}

} // namespace hobble
