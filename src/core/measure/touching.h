#pragma once
// Groups of triangles on the surface, and the joint such a group belongs to.
#include "core/measure/region.h"

namespace hobble {

/// Triangles of a set grouped by touching: sharing a vertex. `marked` is ascending; so is every group.
std::vector<std::vector<std::uint32_t>> touching(const Surface& surface,
                                                 const std::vector<std::uint32_t>& marked);

/// Per surface triangle, which of the motion's turns it belongs to: the one whose blend is strongest there.
/// Empty where the motion has one turn only.
std::vector<std::uint8_t> turnOfTriangles(const Subject& subject, const Motion& motion,
                                          const MotionRegion& region);

/// The joint most of a patch belongs to: of the motion's, or the stranger that holds the skin from afar.
int jointOfPatch(const Subject& subject, const Motion& motion, const std::vector<std::uint8_t>& turnOf,
                 const std::vector<std::uint32_t>& triangles);

} // namespace hobble
