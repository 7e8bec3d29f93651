#pragma once
// What a run found, told for a plan that has changed since.
#include "core/run/run.h"

namespace hobble {

/// Motions that are still there and the same keep their results and findings, in the new plan's order; the
/// others have none yet.
RunResult resultFor(const RunResult& run, const Plan& plan);

/// Whether two motions put the character into the same poses; their steps may differ.
bool sameMotion(const Motion& a, const Motion& b);

} // namespace hobble
