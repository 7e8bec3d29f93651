#pragma once
// What is kept of a trial when it is proposed for a defect: its steps in words, what they do, and the trial.
#include "core/mend/effect.h"
#include "core/mend/trial.h"
#include "log/proposal.h"

namespace hobble {

/// `effects` of the steps, as they were worked out; those that do nothing are left out. `build` is what the
/// trial was tried on, `number` its number in the log.
Proposal proposalOf(const Trial& trial, const std::vector<StepEffect>& effects, const MendEffect& effect,
                    const Subject& build, int number);

} // namespace hobble
