#pragma once
// A patch of skin as a calm shape: where half of the skin around is part of it, evened over the neighbours
// once, cut through triangles (marching triangles) instead of along the zigzag of their edges. Of the patch's
// own field, so that it keeps its size. Our own.
#include "core/measure/girth.h"

namespace hobble {

struct PatchShape {                 // on the surface's edges, so that it is carried along with the skin
    std::vector<EdgePoint> outline; // ends of one segment after another
    std::vector<EdgePoint> fill;    // corners of one triangle after another
};

/// `triangles` of the surface, ascending.
PatchShape patchShape(const Surface& surface, const std::vector<std::uint32_t>& triangles);

} // namespace hobble
