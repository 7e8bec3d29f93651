#pragma once
// Strangers with flesh: one closed skin melted around all bones of a body, with weights by heat over it. What
// is planted in them was tuned on no rule.
#include "core/character/character.h"
#include "zoo/zoo.h"

namespace hobble::zoo {

/// `cell`: metres between vertices for a body of a man's size; digits are meshed finer. Larger cells make a
/// low mesh. `hard` binds every vertex to one joint alone, without any blend.
Character fleshed(const Body& body, const Convention& convention, double cell = 0.016, bool hard = false);

/// By a name as recipes write it: "zoo BODY", "zoo low BODY" for a low mesh, "zoo hard BODY" and "zoo hard
/// low BODY" bound without a blend; "grouped BODY", after those words, with an empty group above every joint.
/// Nothing where there is no such body, or it has no flesh of its own.
std::optional<Character> strangerCalled(const std::string& name);

} // namespace hobble::zoo
