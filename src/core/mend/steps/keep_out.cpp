// A joint holds nothing here: its share goes to those that remain, as they stand to each other. Where none
// remains, what the nearest skin along the surface has without it is taken.
#include "core/mend/step.h"
#include "core/words/say.h"

#include <queue>
#include <set>

namespace hobble {

namespace {

ShareRow without(ShareRow row, int joint) {
    std::erase_if(row, [&](const Share& s) { return s.joint == joint; });
    return row.empty() ? row : tidied(std::move(row));
}

// Ring by ring outwards; of the first ring where any has something else, the mean.
ShareRow nearestWithout(const Surface& surface, const Shares& shares, std::uint32_t from, int joint) {
    std::set<std::uint32_t> seen{from};
    std::vector<std::uint32_t> ring{from};
    while (!ring.empty()) {
        std::vector<std::uint32_t> next;
        std::vector<ShareRow> rows;
        for (std::uint32_t v : ring)
            for (const std::uint32_t* n = surface.neighbours.begin(v); n != surface.neighbours.end(v); ++n)
                if (seen.insert(*n).second) {
                    next.push_back(*n);
                    if (ShareRow row = without(shares.at(*n), joint); !row.empty())
                        rows.push_back(std::move(row));
                }
        if (!rows.empty()) {
            std::vector<std::pair<const ShareRow*, double>> weighed;
            for (const ShareRow& row : rows)
                weighed.push_back({&row, 1});
            return meanOf(weighed);
        }
        ring = std::move(next);
    }
    return {};
}

} // namespace

Result<Done> keepOut(const Step& step, const StepContext& c, Shares& shares) {
    const Shares before = shares; // what is far inside does not depend on which was done first
    for (const Amount& a : c.where) {
        const ShareRow row = before.at(a.vertex);
        if (shareOf(row, c.joint) <= 0)
            continue;
        ShareRow left = without(row, c.joint);
        if (left.empty())
            left = nearestWithout(c.subject.surface, before, a.vertex, c.joint);
        if (left.empty())
            return Error{say("nothing but %s holds this piece of skin", step.joint)};
        shares.want(a.vertex, mixed(row, left, a.by));
    }
    return Done{};
}

} // namespace hobble
