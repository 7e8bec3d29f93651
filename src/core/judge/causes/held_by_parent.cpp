// Skin that follows the joint less than the skin around the limb does: the joint above holds it.
#include "core/judge/causes/case.h"

#include <algorithm>

namespace hobble {

void askHeldByParent(const Case& c, Causes& found) {
    constexpr double leastHeld = 0.15;
    // A blend that is too hard leaves skin behind too, all round.
    constexpr double enough = 0.8;
    const double held = heldBack(c.subject, c.finding);
    if (held < leastHeld ||
        among(found, {CauseKind::BlendTooHard, CauseKind::TooFewLoops, CauseKind::HeldByParent}, enough))
        return;
    found.push_back({CauseKind::HeldByParent, std::min(0.86, 0.35 + 0.8 * held),
                     fact::LagsBehindLimb{c.joint(), c.parentOf(c.joint()), held}});
}

} // namespace hobble
