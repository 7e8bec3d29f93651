// One joint's share set, added to or scaled; the others take the rest as they stand to each other.
#include "core/mend/step.h"

#include <algorithm>

namespace hobble {

Result<Done> fill(const Step& step, const StepContext& c, Shares& shares) {
    for (const Amount& a : c.where) {
        const ShareRow row = shares.at(a.vertex);
        const double was = shareOf(row, c.joint);
        const double wanted = step.fillBy == FillBy::Set   ? step.amount
                              : step.fillBy == FillBy::Add ? was + step.amount
                                                           : was * step.amount;
        shares.want(a.vertex, withShare(row, c.joint, was + a.by * (std::clamp(wanted, 0.0, 1.0) - was)));
    }
    return Done{};
}

} // namespace hobble
