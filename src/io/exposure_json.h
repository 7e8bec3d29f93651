#pragma once
// Exposure as data: docs/schema/exposure.schema.json; and one row per motion as CSV.
#include "core/exposure/exposure.h"
#include "core/pose/motion.h"

#include <nlohmann/json_fwd.hpp>

namespace hobble {

std::string exposureToJson(const Character& character, const Plan& plan, const Exposure& exposure);
std::string exposureToCsv(const Plan& plan, const Exposure& exposure);

/// As it stands in a run's findings and faults too; null when nothing is known.
nlohmann::json usePastJson(const Exposure& exposure, const UsePast& past);

} // namespace hobble
