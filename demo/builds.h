#pragma once
// The postmaster's story: build 1 has many faults; build 2 mends some, one of them on one side only; build 3
// mends more, breaks the coat at the right elbow, and comes with its mesh in another order; build 4 is the
// clean one.
#include "core/result.h"
#include "plant/plant.h"

namespace hobble::demo {

/// The same character with the vertices and triangles of every part in another order.
Character shuffled(const Character& character, std::uint32_t seed);

/// One of the recipes build-1 … build-3 of demo/recipes/story.json.
Result<Character> storyBuild(const Character& clean, const Recipe& recipe);

} // namespace hobble::demo
