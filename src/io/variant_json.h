#pragma once
// Variants of a character as JSON: docs/schema/variants.schema.json.
#include "core/character/variant.h"
#include "core/result.h"

namespace hobble {

std::string variantsToJson(const std::vector<Variant>& variants);
Result<std::vector<Variant>> variantsFromJson(const std::string& text);
Result<std::vector<Variant>> readVariants(const std::string& path);

} // namespace hobble
