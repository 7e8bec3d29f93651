// A garment whose weights are not those of the skin below it.
#include "core/judge/causes/case.h"

#include <algorithm>

namespace hobble {

void askGarment(const Case& c, Causes& found) {
    constexpr double clothLeast = 0.025, skinLeast = 0.08; // mean difference of weights
    const double apart = garmentDifference(c.subject, c.finding);
    const bool cloth = c.finding.kind == Kind::PokeThrough || c.finding.kind == Kind::Gap;
    if (apart < (cloth ? clothLeast : skinLeast))
        return;
    const auto& outer = c.subject.cover->outer;
    const bool onGarment = c.part() >= 0 && std::any_of(outer.begin(), outer.end(), [&](std::uint32_t p) {
                               return static_cast<int>(p) == c.part();
                           });
    // Where the body's own blend is wrong, that the garment differs from it is a consequence.
    const bool bodys = among(found,
                             {CauseKind::PivotOrAxis, CauseKind::BlendTooHard, CauseKind::BlendTooWide,
                              CauseKind::HeldByParent, CauseKind::TooFewLoops, CauseKind::DriverOrCorrective},
                             0.84);
    const bool garments =
        c.sides.garment > 0.1 && c.sides.garment > 2 * c.sides.skin; // alone differs from its mirror
    const double weight = garments ? 0.985
                          : bodys  ? 0.8
                                   : std::min(cloth || onGarment ? 0.97 : 0.5, 0.6 + 3 * apart);
    found.push_back({CauseKind::GarmentDiffers, weight, fact::GarmentUnlikeSkin{apart}});
}

} // namespace hobble
