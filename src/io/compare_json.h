#pragma once
// A comparison as data: docs/schema/compare.schema.json.
#include "core/compare/comparison.h"

namespace hobble {

std::string comparisonToJson(const Comparison& comparison);

/// One row per joint, motion and measure that both sides define.
std::string comparisonToCsv(const Comparison& comparison);

} // namespace hobble
