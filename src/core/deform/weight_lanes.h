#pragma once
#include "core/character/character.h"

namespace hobble {

/// A character's weights as vector registers take them: four influences to every vertex, those it does not
/// have repeating its first with no weight. Made once per character.
struct WeightLanes {
    std::vector<std::uint16_t> joint; // four per vertex
    std::vector<float> weight;        // four per vertex
    std::vector<std::uint32_t>
        apart; // vertices that have more than four, or none: ascending, done one by one
};

WeightLanes weightLanes(const SkinWeights& weights);

} // namespace hobble
