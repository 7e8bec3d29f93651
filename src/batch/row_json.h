#pragma once
#include "batch/batch_row.h"

#include <nlohmann/json.hpp>

namespace hobble {

nlohmann::json toJson(const BatchRow& row);

} // namespace hobble
