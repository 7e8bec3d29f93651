#pragma once
// One-sided faults: every measure, left against right for the mirrored motion; and hinges that bend the wrong
// way.
#include "core/judge/findings.h"

namespace hobble {

/// Fills ZoneMeasures::side and ::bend of the results and adds the patches they make.
void compareSides(const Subject& subject, const Plan& plan, std::vector<MotionResult>& results,
                  std::vector<std::vector<PosePatches>>& patches, const Limits& limits);

} // namespace hobble
