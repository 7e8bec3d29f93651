#pragma once
// Limits as a file of their own, so that a team judges alike: docs/schema/limits.schema.json.
#include "core/judge/limits.h"
#include "core/result.h"

namespace hobble {

std::string limitsToJson(const Limits& limits);

/// What the text leaves out stays as the standard has it. Fails, saying where, on unknown kinds and roles and
/// on steps that do not rise in severity.
Result<Limits> limitsFromJson(const std::string& text);
Result<Limits> readLimits(const std::string& path);

} // namespace hobble
