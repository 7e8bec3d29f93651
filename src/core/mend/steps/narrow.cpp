// The passage between two joints made narrower or wider, its middle kept: of what both hold together, the
// child's part C becomes Cᵏ / (Cᵏ + (1 − C)ᵏ). Where C is ½ it stays; where one of them holds nothing,
// nothing comes. Our own: the logit of C times k, so that k and then 1/k is nothing.
#include "core/mend/step.h"
#include "core/words/say.h"

#include <cmath>

namespace hobble {

Result<Done> narrow(const Step& step, const StepContext& c, Shares& shares) {
    if (!(step.amount > 0))
        return Error{say("how narrow is a number above 0")};
    for (const Amount& a : c.where) {
        ShareRow row = shares.at(a.vertex);
        const double parent = shareOf(row, c.joint), child = shareOf(row, c.to), both = parent + child;
        if (parent <= 0 || child <= 0)
            continue;
        const double up = std::pow(child / both, step.amount), down = std::pow(parent / both, step.amount);
        const double wanted = both * up / (up + down), now = child + a.by * (wanted - child);
        for (Share& s : row)
            if (s.joint == c.joint || s.joint == c.to)
                s.by = s.joint == c.to ? now : both - now;
        shares.want(a.vertex, tidied(std::move(row)));
    }
    return Done{};
}

} // namespace hobble
