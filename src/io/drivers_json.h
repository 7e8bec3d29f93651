#pragma once
// Drivers as JSON: docs/schema/drivers.schema.json. In a .glb they are the asset's extras, under
// "hobbleDrivers".
#include "core/character/character.h"
#include "core/result.h"

#include <nlohmann/json_fwd.hpp>

namespace hobble {

nlohmann::json driversToJson(const Character& character);

/// Drivers of a character by its names. Those that name what it does not have, or that drive themselves in a
/// circle, are left out, with a sentence in `notes` for each; the rest stays usable.
std::vector<Driver> driversFromJson(const nlohmann::json& list, const Character& character,
                                    std::vector<std::string>& notes);

} // namespace hobble
