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

/// Of triangles `from` to before `to`; those of the others are left as they are. In vector registers where
/// the machine has them. Fewer than 2³¹ / 3 positions.
void triangleBoxes(const std::vector<Triangle>& triangles, std::size_t from, std::size_t to,
                   const std::vector<Vec3>& positions, TriangleBoxes& out);

inline void triangleBoxes(const std::vector<Triangle>& triangles, const std::vector<Vec3>& positions,
                          TriangleBoxes& out) {
    triangleBoxes(triangles, 0, triangles.size(), positions, out);
}

} // namespace hobble
