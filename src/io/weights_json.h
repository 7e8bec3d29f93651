#pragma once
// The weights alone, vertex by vertex in the order of the file that was opened, joints by name: so that a few
// lines of script put them back into any program. docs/schema/weights.schema.json.
#include "core/character/character.h"
#include "core/result.h"

namespace hobble {

std::string weightsToJson(const Character& character);
/// part,vertex,joint,weight: a row for every influence.
std::string weightsToCsv(const Character& character);
/// The character's weights with those that are told; parts that are not told keep theirs. An error for joints
/// and parts it does not have, another number of vertices, and what is no weight (not finite, below 0, 0 all
/// together). Sums are settled at 1.
Result<SkinWeights> weightsFromJson(const std::string& text, const Character& character);

} // namespace hobble
