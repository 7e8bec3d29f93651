// A pivot beside where it belongs: where the mirrored joint has it, or the middle of the limb.
#include "core/judge/causes/trial.h"

namespace hobble {

void askPivot(const Case& c, Causes& found) {
    constexpr double offMirrored = 0.25, offMiddle = 1.05, farOff = 1.3; // limb radii
    const BlendShape& b = c.context.blends[static_cast<std::size_t>(c.joint())];
    if (!b.known)
        return;
    if (c.mirror() >= 0) { // the other side knows where it belongs
        if (const double off = offMirror(c.subject, c.joint()); off > offMirrored) {
            // Of the two, the one whose trouble goes when it is put where its mirror has it; where that
            // cannot be tried, the one that lies farther from the skin that blends about it.
            const BlendShape& other = c.context.blends[static_cast<std::size_t>(c.mirror())];
            bool ours = !other.known || b.offBlend >= other.offBlend;
            if (c.ofTheShape())
                if (const auto moved =
                        undone(c, {CauseKind::PivotOrAxis, 1, fact::LiesOffMirror{c.joint(), c.mirror(), off},
                                   c.joint()}))
                    ours = c.gone(c.method, nullptr, &*moved) > 0;
            if (!ours && !c.ofTheDifference())
                return; // what is seen here is its own
            found.push_back(
                {CauseKind::PivotOrAxis, 0.97,
                 fact::LiesOffMirror{ours ? c.joint() : c.mirror(), ours ? c.mirror() : c.joint(), off}});
        }
        return;
    }
    if (b.offCentre > offMiddle)
        found.push_back(
            {CauseKind::PivotOrAxis, b.offCentre > farOff ? 0.96 : 0.8, fact::LiesOffMiddle{b.offCentre}});
}

} // namespace hobble
