#pragma once
#include "batch/batch_row.h"

#include <nlohmann/json.hpp>

namespace hobble {

/// Without the time it took and whether it was known: the same whoever tested it, whenever.
nlohmann::json toJson(const BatchRow& row);

} // namespace hobble
