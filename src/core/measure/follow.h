#pragma once
// Who follows a joint: those below it wholly, driven joints by the share of its turn they take.
#include "core/character/surface.h"

namespace hobble {

/// Per joint of the skeleton, how much of `joint`'s turn it makes: 1 for itself and all below, 2/3 for a
/// twist joint that takes two thirds, 0 for the rest. With an axis (unit, the joint's own neutral frame),
/// only drivers that watch about that axis count.
std::vector<float> followShares(const Character& character, int joint, const Vec3d* axis = nullptr);

/// C(v): the sum of a vertex's weights on what follows.
inline float followingAt(const SkinWeights& weights, std::uint32_t vertex, const std::vector<float>& shares) {
    float sum = 0;
    for (std::uint32_t i = weights.first[vertex]; i < weights.first[vertex + 1]; ++i)
        sum += shares[weights.joint[i]] * weights.weight[i];
    return sum;
}

/// Of all welded vertices.
std::vector<float> following(const Surface& surface, const std::vector<float>& shares);

} // namespace hobble
