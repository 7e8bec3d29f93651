#pragma once
// What a measure is said as.
#include "core/judge/measure_unit.h"

namespace hobble {

/// "12 mm", "3.68", "45 %"
std::string wordsFor(const MeasureUnit& unit, double value);

} // namespace hobble
