// A hinge that turns about another axis than its flesh bends by: the measure itself says so.
#include "core/judge/causes/case.h"

namespace hobble {

void askBendAxis(const Case& c, Causes& found) {
    if (c.finding.kind == Kind::WrongBend)
        found.push_back({CauseKind::PivotOrAxis,
                         std::min(1.0, 0.6 + c.finding.peakValue / 60),    // a pivot that is off
                         fact::BendsOff{c.joint(), c.finding.peakValue}}); // turns it a little
}

} // namespace hobble
