#pragma once
// Causes that argue: the likeliest causes of a fault are undone, cheaply, in the pose that shows it worst,
// and ranked by what share of its trouble goes: weights passed over in a good width, taken from the mirror or
// from who should hold them, a pivot put where it belongs. What cannot be tried keeps what speaks for it. Our
// own.
#include "core/judge/causes/likely_causes.h"
#include "core/judge/faults.h"

namespace hobble {

/// Sets Cause::gone of those that were tried, and puts the causes in their order again.
void tryCauses(const Subject& subject, const CauseContext& context, const Plan& plan, Skinning method,
               const std::vector<Finding>& findings, Fault& fault);

/// The character with a cause undone; nothing where that cannot be tried.
std::optional<Character> undone(const Case& c, const Cause& cause);

} // namespace hobble
