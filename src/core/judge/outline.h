#pragma once
// The outline of a patch of skin as a calm line: where half of the skin around is part of it, carried along
// edges (marching triangles on the share of each vertex's surroundings), instead of the zigzag of its
// triangles' edges.
#include "core/measure/girth.h"

namespace hobble {

/// Ends of one segment after another. `triangles` of the surface, ascending.
std::vector<EdgePoint> patchOutline(const Surface& surface, const std::vector<std::uint32_t>& triangles);

} // namespace hobble
