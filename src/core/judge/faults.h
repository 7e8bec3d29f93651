#pragma once
// Faults: what is wrong, once. A fault is one cause at one place; its signs are the findings that show it, in
// other measures and motions, at neighbouring joints, on both sides. It is told at the joint whose weights,
// pivot or driver would be changed, and stands where a lead would take it up. Our own: set on the tuned sets
// of demo/recipes, scored on others (docs/detection.md).
#include "core/judge/findings.h"

namespace hobble {

struct Fault {
    int joint = -1; // where it would be mended
    Side side = Side::Middle;
    Role role = Role::Unknown;
    std::vector<int> joints;   // all of them, `joint` first: both sides, or a row of fingers
    int severity = 0;          // of its worst sign
    std::vector<int> signs;    // of the findings; the one that tells it first
    std::vector<Cause> causes; // likeliest first
    double urgency = 0;        // what it is ordered by
    double area = 0;           // m², neutral, of the skin its signs mark

    const Cause* headline() const { return causes.empty() || causes[0].weight < 0.25 ? nullptr : &causes[0]; }
};

/// Findings as faults, their causes known: signs and causes, not yet where each is told.
std::vector<Fault> gatherFaults(const Subject& subject, const Plan& plan, const Limits& limits,
                                std::vector<Finding>& findings);

/// Says where each is told and by which sign, joins what a row of fingers or a low mesh has alike, and puts
/// the most urgent first. Each finding's `fault` and `leads` are set.
void orderFaults(const Subject& subject, const Plan& plan, const Limits& limits,
                 std::vector<Finding>& findings, std::vector<Fault>& faults);

/// Severity between the steps: 2.4 is two fifths of the way from the second limit to the third. 0 within all
/// limits, at most 5.
double severityAlong(Kind kind, double value, const LimitSteps& steps);

} // namespace hobble
