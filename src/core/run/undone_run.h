#pragma once
// Signs that go with a fault: what is surely wrong at one place is undone, and what its neighbours show is
// run again. A sign that nothing surely explains, and that is gone then, is a sign of that fault, whatever
// its kind and wherever it is seen. Our own; what goes was set on the tuned sets of demo/recipes
// (docs/detection.md).
#include "core/judge/causes/likely_causes.h"
#include "core/run/run.h"

namespace hobble {

/// `faults` are as they were gathered and argued about, not yet in order. Nothing changes after a stop.
void gatherWhatGoes(const Subject& subject, const CauseContext& context, const Plan& plan,
                    const RunOptions& options, const std::vector<Finding>& findings,
                    std::vector<Fault>& faults);

} // namespace hobble
