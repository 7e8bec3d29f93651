// A pivot beside where it belongs: where the mirrored joint has it, or the middle of the limb.
#include "core/judge/causes/case.h"

namespace hobble {

void askPivot(const Case& c, Causes& found) {
    constexpr double offMirrored = 0.25, offMiddle = 1.05; // limb radii
    const BlendShape& b = c.context.blends[static_cast<std::size_t>(c.joint())];
    if (!b.known)
        return;
    if (c.mirror() >= 0) { // the other side knows where it belongs
        if (const double off = offMirror(c.subject, c.joint()); off > offMirrored)
            found.push_back({CauseKind::PivotOrAxis, 0.97, fact::LiesOffMirror{c.mirror(), off}});
        return;
    }
    if (b.offCentre > offMiddle)
        found.push_back({CauseKind::PivotOrAxis, 0.96, fact::LiesOffMiddle{b.offCentre}});
}

} // namespace hobble
