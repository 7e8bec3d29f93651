// A clip's frame goes past what is planned for the character: the clip's doing, not the character's. Nothing
// speaks more for a cause.
#include "core/judge/causes/case.h"

namespace hobble {

void askBeyondPlan(const Case& c, Causes& found) {
    if (!c.motion.beyond.empty())
        found.push_back({CauseKind::PosePastPlan, 1, fact::BeyondPlan{c.motion.beyond}});
}

} // namespace hobble
