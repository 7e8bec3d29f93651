#pragma once
#include "core/geometry.h"

#include <cstdint>

namespace hobble {

/// Of twenty-six directions evenly about the origin those that a triangle's normal has a share in, as bits,
/// the opposite of a direction thirteen bits above it; none for a triangle without area.
using Facing = std::uint32_t;

/// Of triangles `from` to before `to`, where `out` has room for all; those of the others are left as they
/// are. In vector registers where the machine has them. Fewer than 2³¹ / 3 positions.
void facings(const std::vector<Triangle>& triangles, std::size_t from, std::size_t to,
             const std::vector<Vec3>& positions, std::vector<Facing>& out);

} // namespace hobble
