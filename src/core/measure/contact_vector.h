#pragma once
#include "core/geometry.h"

#include <cmath>

namespace hobble {

/// Per triangle its box, by axis, and of twenty-six directions evenly about the origin those its normal has a
/// share in, as bits; none for a triangle without area.
struct TriangleBoxes {
    std::vector<float> low[3], high[3];
    std::vector<std::uint32_t> facing;
};

/// In vector registers where the machine has them. Fewer than 2³¹ / 3 positions.
void triangleBoxes(const std::vector<Triangle>& triangles, const std::vector<Vec3>& positions,
                   TriangleBoxes& out);

} // namespace hobble
