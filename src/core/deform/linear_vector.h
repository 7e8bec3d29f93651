#pragma once
#include <cstddef>
#include <cstdint>

namespace hobble {

/// One part's vertices, as plain arrays of three floats a vertex, and the motion of every joint from bind to
/// posed.
struct SkinRange {
    const float* palette = nullptr;       // per joint four columns of four floats, on 64 bytes
    const std::uint16_t* joint = nullptr; // four per vertex, as WeightLanes has them
    const float* weight = nullptr;
    const float* position = nullptr; // bind
    const float* normal = nullptr;   // bind; null: no normals wanted
    float* out = nullptr;
    float* outNormal = nullptr; // of changing length: normalise where it matters
    std::size_t begin = 0, end = 0;
};

void skinInLanes(const SkinRange& range);

} // namespace hobble
