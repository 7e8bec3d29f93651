// A part of what one joint holds goes to another, all others stay.
#include "core/mend/step.h"
#include "core/words/say.h"

namespace hobble {

Result<Done> handOver(const Step& step, const StepContext& c, Shares& shares) {
    if (step.amount < 0 || step.amount > 1)
        return Error{say("a part is from 0 to 1")};
    for (const Amount& a : c.where) {
        ShareRow row = shares.at(a.vertex);
        const double given = shareOf(row, c.joint) * step.amount * a.by;
        if (given <= 0)
            continue;
        for (Share& s : row)
            if (s.joint == c.joint)
                s.by -= given;
        row.push_back({static_cast<std::uint16_t>(c.to), given + shareOf(row, c.to)});
        for (std::size_t i = 0; i + 1 < row.size(); ++i) // it had some already
            if (row[i].joint == c.to)
                row[i].by = 0;
        shares.want(a.vertex, tidied(std::move(row)));
    }
    return Done{};
}

} // namespace hobble
