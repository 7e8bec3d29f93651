#pragma once
// How deep skin lies in flesh: from where it crosses, inwards over the surface. An edge that nothing goes
// through has both its ends inside or both outside (Baraff, Witkin and Kass 2003, "Untangling Cloth"), so a
// few vertices of each patch between the lines of intersection are asked: how often flesh lies around them,
// by the ways out and in along two or three rays, since bodies have openings. A line need not close (a tear,
// an opening): every few steps a vertex is asked for itself, and so is all that hangs together with one that
// is not inside. How deep is the way to the nearest place of the surface that is seen from behind, found from
// where the neighbour's way ends (as distances spread over a grid: Danielsson 1980, "Euclidean Distance
// Mapping") and, where skin lies deepest, in the tree.
#include "core/measure/contact.h"

namespace hobble {

struct InsideVertex {
    std::uint32_t vertex = 0;
    float depth = 0;        // metres
    std::uint32_t exit = 0; // the triangle that is its way out
};

/// Inwards from triangles that cross, as long as vertices lie inside flesh, in no particular order. `height`
/// is the body's. False when cancelled on the way.
bool depthsInside(const Surface& surface, const ContactSetup& setup, const Boxes& boxes,
                  const std::vector<Vec3>& posedWelded, double height, const SkinCrossing& crossing,
                  const std::atomic<bool>* cancel, std::vector<InsideVertex>& inside);

} // namespace hobble
