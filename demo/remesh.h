#pragma once
// The same character with its mesh made anew: what an artist's re-meshing does, to test that nothing is
// called better or worse for it. In another order: shuffled() in builds.h.
#include "core/character/character.h"

namespace hobble::demo {

/// Every triangle cut into four at the middles of its edges; weights, colours and targets in between.
Character subdivided(const Character& character);

/// To so many of its triangles (0 … 1), part by part, where the skin is bent least first (meshoptimizer's
/// simplifier).
Character decimated(const Character& character, double share);

/// Without the parts of that name.
Character without(const Character& character, const std::string& part);

} // namespace hobble::demo
