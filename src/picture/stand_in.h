#pragma once
// A coarser mesh over the same vertices, for a picture of a character too heavy to be drawn anew while it
// moves: edges are collapsed where that changes the form least (meshoptimizer; Garland and Heckbert 1997,
// "Surface Simplification Using Quadric Error Metrics").
#include "core/character/character.h"

#include <vector>

namespace hobble {

/// About `most` triangles of the whole character, each part with its share; they refer to the file's own
/// vertices, so that every pose and every colour is theirs too. Looked at in neutral. Takes seconds for
/// millions: not on the window's thread.
std::vector<Triangle> standIn(const Character& character, std::size_t most);

} // namespace hobble
