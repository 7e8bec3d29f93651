#pragma once
// A plan as JSON: docs/schema/plan.schema.json.
#include "core/pose/motion.h"
#include "core/result.h"

namespace hobble {

std::string planToJson(const Plan& plan, const Skeleton& skeleton);

/// Fails on text that is no plan, on numbers that make no motion, and on joints this skeleton does not have.
Result<Plan> planFromJson(const std::string& text, const Skeleton& skeleton);

Result<Plan> readPlan(const std::string& path, const Skeleton& skeleton);

} // namespace hobble
