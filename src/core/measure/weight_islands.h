#pragma once
// Islands of weight: skin that a joint holds though it does not hang together with the rest that the joint
// holds. Good weights fade; a stray influence starts anew somewhere else.
#include "core/character/surface.h"

namespace hobble {

struct WeightIsland {
    int joint = -1;
    std::vector<std::uint32_t> vertices; // welded, ascending
    double share = 0;                    // mean weight on it
    bool far = false;                    // farther from the joint's bone than the skin it rightly holds

    bool operator==(const WeightIsland&) const = default;
};

/// Of the joints flagged, in their order. What one joint holds on a shell may hang together in one piece;
/// smaller pieces are islands. `neutral` has one position per welded vertex.
std::vector<WeightIsland> weightIslands(const Character& character, const Surface& surface,
                                        const std::vector<Vec3>& neutral, const std::vector<char>& joints);

} // namespace hobble
