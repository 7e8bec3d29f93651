#pragma once
// How often a show's animation goes where a finding or a fault of a run begins.
#include "core/exposure/exposure.h"
#include "core/run/run.h"

namespace hobble {

UsePast usePast(const Exposure& exposure, const Plan& plan, const Finding& finding);

/// Of a fault, the sign that most frames go past, and how many; the telling one when none is.
struct FaultUse {
    int finding = -1;
    UsePast past;
};
FaultUse faultUse(const Exposure& exposure, const RunResult& run, const Fault& fault);

/// Of a motion's planned range: what animation does past it, which the plan does not test. Motions that have
/// no unit to go on in (frames of a clip) have none.
UsePast usePastPlan(const Exposure& exposure, const Motion& motion);

} // namespace hobble
