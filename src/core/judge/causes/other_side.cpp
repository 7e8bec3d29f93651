// What was done to the weights of one side only, told by how they differ from the other's.
#include "core/judge/causes/case.h"

#include <cmath>

namespace hobble {

void askOtherSide(const Case& c, Causes& found) {
    constexpr double leastDifference = 0.14,
                     garmentsOwn = 2; // times the skin's: then it is the garment's affair
    constexpr double sure = 0.94, weight = 0.975;
    constexpr double followsLess = 0.85, passesUnlike = 0.15;
    const SideDifference& d = c.sides;
    if (d.joint < 0 || d.mean < leastDifference || d.garment > garmentsOwn * d.skin ||
        among(found, {CauseKind::StrayInfluence, CauseKind::TooFewLoops}, sure))
        return;
    const int twin = c.subject.roles[static_cast<std::size_t>(d.joint)].mirror, parent = c.parentOf(d.joint);
    if (d.less > followsLess && parent >= 0)
        found.push_back(
            {CauseKind::HeldByParent, weight, fact::LagsBehindMirror{d.joint, twin, parent, d.mean}});
    else if (std::abs(d.harder) > passesUnlike)
        found.push_back({d.harder > 0 ? CauseKind::BlendTooHard : CauseKind::BlendTooWide, weight,
                         fact::PassesUnlikeMirror{d.harder > 0, d.joint, twin, d.mean}});
}

} // namespace hobble
