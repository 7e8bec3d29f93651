#pragma once
// A trial as JSON: docs/schema/trial.schema.json. Marked vertices are told by the file's own numbers, strokes
// by their path over the neutral skin in metres.
#include "core/mend/trial.h"

namespace hobble {

std::string trialToJson(const Trial& trial, const Surface& surface);
/// For the build whose surface this is. An error for what is no trial, or marks what the mesh does not have.
Result<Trial> trialFromJson(const std::string& text, const Surface& surface);
Result<Trial> readTrial(const std::string& path, const Surface& surface);

} // namespace hobble
