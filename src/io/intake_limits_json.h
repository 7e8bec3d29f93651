#pragma once
// The limits of Intake as JSON, docs/schema/intake-limits.schema.json. What a file leaves out is as standard.
#include "core/intake/check.h"
#include "core/result.h"

namespace hobble {

std::string intakeLimitsToJson(const IntakeLimits& limits);
Result<IntakeLimits> intakeLimitsFromJson(const std::string& text);
Result<IntakeLimits> readIntakeLimits(const std::string& path);

} // namespace hobble
