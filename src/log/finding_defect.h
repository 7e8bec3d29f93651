#pragma once
// What a defect keeps of the finding it was logged from.
#include "core/run/run.h"
#include "log/production_log.h"

namespace hobble {

/// Everything but build, camera and picture.
DefectFacts factsOf(const Subject& subject, const Plan& plan, const Finding& finding);

/// The summary the log keeps of a run.
RunSummary summaryOf(const Subject& subject, const RunResult& run, qint64 buildId);

} // namespace hobble
