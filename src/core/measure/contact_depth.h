#pragma once
// How deep skin lies in flesh: from where it crosses, inwards over the surface. Rays outwards say whether a
// vertex is inside: our own, because bodies have openings that a winding number would leak through, and lines
// of intersection do not close where what crossed in neutral already does not count. How deep is the way to
// the nearest place of the surface that is seen from behind, found from where the neighbour's way ends (as
// distances spread over a grid: Danielsson 1980, "Euclidean Distance Mapping") and, where skin lies deepest,
// in the tree.
#include "core/measure/contact.h"

namespace hobble {

/// Inwards from triangles that cross, as long as vertices lie inside flesh: vertices and their depth, metres,
/// in no particular order. `height` is the body's. False when cancelled on the way.
bool depthsInside(const Surface& surface, const ContactSetup& setup, const Boxes& boxes,
                  const std::vector<Vec3>& posedWelded, double height,
                  const std::vector<std::pair<std::uint32_t, std::uint32_t>>& crossing,
                  const std::atomic<bool>* cancel, std::vector<std::pair<std::uint32_t, float>>& inside);

} // namespace hobble
