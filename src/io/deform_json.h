#pragma once
// Smoothing after skinning and skin that goes by another method, as JSON: docs/schema/deform.schema.json. In
// a .glb they are the document's extras, under "hobbleDeform"; other programs pass them over.
#include "core/character/character.h"

#include <nlohmann/json_fwd.hpp>

namespace hobble {

/// Null where nothing is to be said. Vertices are those of the file, by part.
nlohmann::json deformToJson(const Character& character);

/// What cannot be used is left out, with a sentence in `notes`; the rest stays usable.
DeformExtras deformFromJson(const nlohmann::json& from, const Character& character,
                            std::vector<std::string>& notes);

} // namespace hobble
