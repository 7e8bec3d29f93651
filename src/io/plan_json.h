#pragma once
// A plan as JSON: docs/schema/plan.schema.json.
#include "core/pose/motion.h"
#include "core/result.h"

namespace hobble {

std::string planToJson(const Plan& plan, const Character& character);

/// Fails on text that is no plan. Motions that make no sense, and those of joints or shapes this character
/// does not have, are left out with a sentence each in `left`; where that is null, they fail the whole.
Result<Plan> planFromJson(const std::string& text, const Character& character,
                          std::vector<std::string>* left = nullptr);

Result<Plan> readPlan(const std::string& path, const Character& character,
                      std::vector<std::string>* left = nullptr);

} // namespace hobble
