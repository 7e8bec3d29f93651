#pragma once
// One-sided faults: every measure, left against right for the mirrored motion; and hinges that bend the wrong
// way.
#include "core/judge/findings.h"

namespace hobble {

/// Fills ZoneMeasures::side and ::bend of the results and returns the patches they make, per motion and step.
std::vector<std::vector<PosePatches>> compareSides(const Subject& subject, const Plan& plan,
                                                   std::vector<MotionResult>& results, const Limits& limits);

} // namespace hobble
