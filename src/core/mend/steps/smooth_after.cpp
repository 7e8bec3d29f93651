// The posed skin smoothed with its detail kept (core/deform/detail_smoothing.h), over whatever the skinning
// makes of it: no weights are changed.
#include "core/deform/detail_smoothing.h"
#include "core/mend/step.h"
#include "core/words/say.h"

namespace hobble {

Result<Done> smoothAfter(const Step& step, const BuildContext& c, Character& character) {
    constexpr int mostPasses = 200;
    if (step.count < 1 || step.count > mostPasses)
        return Error{say("it is smoothed 1 to 200 times")};
    if (step.amount < 0 || step.amount > 1)
        return Error{say("in one pass skin goes 0 to 1 of the way")};
    if (c.where.empty())
        return Error{say("there is no skin at this place")};
    SmoothingWish wish;
    wish.passes = step.count;
    wish.strength = step.amount > 0 ? step.amount : wish.strength;
    for (const Amount& a : c.where)
        wish.where.emplace_back(a.vertex, static_cast<float>(a.by));
    character.extras.smoothing.push_back(
        std::make_shared<const DetailSmoothing>(c.subject.surface, c.subject.neutral, std::move(wish)));
    return Done{};
}

} // namespace hobble
