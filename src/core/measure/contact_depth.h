#pragma once
// How deep skin lies in flesh: from where it crosses, inwards over the surface, with rays to the shortest way
// out. Our own: rays, because bodies have openings and a winding number would leak through them.
#include "core/measure/contact.h"

#include <functional>

namespace hobble {

/// From crossing triangles inwards, as long as vertices lie inside flesh: vertices and their depth, metres,
/// in no particular order. `height` is the body's. False when cancelled on the way.
bool depthsInside(const Surface& surface, const ContactSetup& setup, const Boxes& boxes,
                  const std::vector<Vec3>& posedWelded, double height,
                  const std::vector<std::uint32_t>& crossing, const std::atomic<bool>* cancel,
                  std::vector<std::pair<std::uint32_t, float>>& inside);

} // namespace hobble
