// The shares of one place of the skin, given to others: what the nearest vertex to it has.
#include "core/mend/step.h"
#include "core/words/say.h"

namespace hobble {

Result<Done> copyShares(const Step& step, const StepContext& c, Shares& shares) {
    if (!step.at.allFinite())
        return Error{say("the place it is copied from is nowhere")};
    std::uint32_t from = 0;
    double least = INFINITY;
    for (std::uint32_t v = 0; v < c.subject.neutral.size(); ++v)
        if (const double d = (c.subject.neutral[v].cast<double>() - step.at).squaredNorm();
            d < least && !shares.at(v).empty()) {
            least = d;
            from = v;
        }
    if (!std::isfinite(least))
        return Error{say("no skin has any weights")};
    const ShareRow row = shares.at(from);
    for (const Amount& a : c.where)
        shares.want(a.vertex, mixed(shares.at(a.vertex), row, a.by));
    return Done{};
}

} // namespace hobble
