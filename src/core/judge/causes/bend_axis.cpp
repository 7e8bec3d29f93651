// A hinge that turns about another axis than its flesh bends by: the measure itself says so.
#include "core/judge/causes/case.h"

namespace hobble {

void askBendAxis(const Case& c, Causes& found) {
    if (c.finding.kind == Kind::WrongBend)
        found.push_back({CauseKind::PivotOrAxis, 1, fact::BendsOff{c.joint(), c.finding.peakValue}});
}

} // namespace hobble
