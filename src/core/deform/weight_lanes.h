#pragma once
#include "core/character/character.h"

namespace hobble {

/// A character's weights as vector registers take them: four influences to every vertex, those it does not
/// have repeating its first with no weight. Made once per character.
struct WeightLanes {
    SharedVector<std::uint16_t> joint; // four per vertex
    SharedVector<float> weight;        // four per vertex
    SharedVector<std::uint32_t>
        apart; // vertices that have more than four, or none: ascending, done one by one

    bool operator==(const WeightLanes&) const = default;
};

WeightLanes weightLanes(const SkinWeights& weights);

/// The same where only those of some vertices, ascending, are others than before.
WeightLanes weightLanes(const WeightLanes& before, const SkinWeights& weights,
                        const std::vector<std::uint32_t>& changed);

} // namespace hobble
