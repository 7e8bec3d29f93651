// What was done to the weights of one side only, told by how they differ from the other's.
#include "core/judge/causes/case.h"

#include <cmath>

namespace hobble {

void askOtherSide(const Case& c, Causes& found) {
    // What is a difference from the other side needs less of one in the weights to be put down to it.
    const double leastDifference = c.ofTheDifference() ? 0.06 : 0.14;
    constexpr double garmentsOwn = 2; // times the skin's: then it is the garment's affair
    constexpr double sure = 0.94, weight = 0.975;
    constexpr double followsLess = 0.85, passesUnlike = 0.15;
    const SideDifference& d = c.sides;
    if (d.joint < 0 || d.mean < leastDifference || d.garment > garmentsOwn * d.skin ||
        among(found,
              {CauseKind::StrayInfluence, CauseKind::TooFewLoops, CauseKind::PatchLeftBehind,
               CauseKind::NeighbourFinger},
              sure))
        return;
    const int twin = c.subject.roles[static_cast<std::size_t>(d.joint)].mirror, parent = c.parentOf(d.joint);
    constexpr double allRound = 0.55;
    if (d.less > followsLess && parent >= 0 && (d.around < allRound || d.harder > 0))
        found.push_back(
            {CauseKind::HeldByParent, weight, fact::LagsBehindMirror{d.joint, twin, parent, d.mean}});
    else if (d.less < 1 - followsLess && twin >= 0 && parent >= 0 && c.ofTheDifference() &&
             (d.around < allRound || d.harder < 0)) // the other side lags
        found.push_back({CauseKind::HeldByParent, weight,
                         fact::LagsBehindMirror{twin, d.joint, c.parentOf(twin), d.mean}});
    else if (std::abs(d.harder) > passesUnlike) {
        // Of the two sides the one that somebody changed is told, wherever it is seen.
        const BlendShape &own = c.context.blends[static_cast<std::size_t>(d.joint)],
                         *other = twin >= 0 ? &c.context.blends[static_cast<std::size_t>(twin)] : nullptr;
        const bool others = other && own.known && other->known && lessNatural(*other, own);
        if (others && !c.ofTheDifference())
            return; // what is seen here is its own
        const bool harder = (d.harder > 0) != others;
        found.push_back(
            {harder ? CauseKind::BlendTooHard : CauseKind::BlendTooWide, weight,
             fact::PassesUnlikeMirror{harder, others ? twin : d.joint, others ? d.joint : twin, d.mean}});
    }
}

} // namespace hobble
