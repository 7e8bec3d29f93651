#pragma once
// Where skin goes through skin: the segments in which pairs of crossing triangles meet (Möller 1997, "A Fast
// Triangle-Triangle Intersection Test": both triangles cut the line their planes share; the segment is what
// they have in common on it).
#include "core/character/surface.h"

namespace hobble {

/// Ends of one segment after another. `pairs` are of `triangles`; pairs that do not cross, or lie in one
/// plane, give none.
std::vector<Vec3> contactLines(const std::vector<Triangle>& triangles, const std::vector<Vec3>& positions,
                               const std::vector<std::pair<std::uint32_t, std::uint32_t>>& pairs);

} // namespace hobble
