#pragma once
// Where two posed skins differ: how far each vertex of one is from its counterpart on the other, and how a
// measure differs there. Our own, over pairing.h.
#include "core/compare/pairing.h"

namespace hobble {

struct SkinDifference {
    /// Per welded vertex of one, metres of one; negative where it has no counterpart.
    std::vector<float> distance;
    float farthest = 0;
    std::uint32_t at = SkinPlace::kNone; // the vertex that is
    std::size_t beyond = 0;              // vertices farther than a thousandth of the body's height
};

/// Positions are posed, one per welded vertex. What moved with the whole body does not count: the other is
/// brought to where one stands. Of another character, or another side, there is none: `distance` is negative
/// throughout.
SkinDifference skinDifference(const Subject& one, const std::vector<Vec3>& posedOne, const Subject& other,
                              const std::vector<Vec3>& posedOther, const Pairing& pairing);

struct NeutralDifference {
    std::size_t moved = 0;      // vertices of one that lie elsewhere in neutral
    double farthest = 0;        // metres
    std::size_t reweighted = 0; // whose weights differ by a hundredth and more
    std::size_t without = 0;    // without a counterpart
    std::vector<int> partsWithout;
    std::vector<float> weights; // per welded vertex: half the sum of differences, 0 … 1
};
NeutralDifference neutralDifference(const Subject& one, const Subject& other, const Pairing& pairing);

} // namespace hobble
