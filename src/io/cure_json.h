#pragma once
// Cures as JSON: docs/schema/cures.schema.json. Their steps stand there as in a trial's file.
#include "core/mend/cure.h"

namespace hobble {

/// `run` and `goal` are what was searched for; `subject` the build.
std::string curesToJson(const Cures& cures, const CureGoal& goal, const Subject& subject,
                        const RunResult& run);
std::string curedAllToJson(const CuredAll& all, const Subject& build);

} // namespace hobble
