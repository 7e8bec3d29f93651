// Fewer influences: those below a share go, or all but the largest. The rest stand to each other as before.
#include "core/mend/step.h"
#include "core/words/say.h"

#include <algorithm>

namespace hobble {

namespace {

void keepThose(const StepContext& c, Shares& shares, const auto& keeps) {
    for (const Amount& a : c.where) {
        const ShareRow row = shares.at(a.vertex);
        ShareRow kept;
        for (const Share& s : row)
            if (keeps(row, s) || shares.locked(s.joint))
                kept.push_back(s);
        if (!kept.empty() && kept.size() < row.size()) // in part is not at all: an influence is there or not
            shares.want(a.vertex, tidied(std::move(kept)));
    }
}

} // namespace

Result<Done> dropSmall(const Step& step, const StepContext& c, Shares& shares) {
    if (step.amount < 0 || step.amount >= 1)
        return Error{say("a share is from 0 to 1")};
    keepThose(c, shares, [&](const ShareRow& row, const Share& s) {
        const auto largest = std::max_element(row.begin(), row.end(),
                                              [](const Share& a, const Share& b) { return a.by < b.by; });
        return s.by >= step.amount || s == *largest; // one always stays
    });
    return Done{};
}

Result<Done> cap(const Step& step, const StepContext& c, Shares& shares) {
    if (step.count < 1)
        return Error{say("one influence at least has to stay")};
    keepThose(c, shares, [&](const ShareRow& row, const Share& s) {
        // by share, then by joint, so that equals are told apart in one way
        return std::count_if(row.begin(), row.end(), [&](const Share& o) {
                   return o.by > s.by || (o.by == s.by && o.joint < s.joint);
               }) < step.count;
    });
    return Done{};
}

} // namespace hobble
