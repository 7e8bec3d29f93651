#pragma once
// A smooth preview of the skin: one step of Loop subdivision (Loop 1987, "Smooth Subdivision Surfaces Based
// on Triangles", with Warren's weights and Biermann's rules for borders). Only to be looked at: what is
// measured is the mesh itself.
#include "core/character/surface.h"

namespace hobble {

struct SmoothPreview {
    std::vector<Triangle> triangles;                   // four for each triangle of the surface, in its order
    std::vector<std::uint32_t> first{0};               // per new vertex, where its stencil starts
    std::vector<std::uint32_t> from;                   // welded vertices
    std::vector<float> weight;                         // summing to 1 per new vertex
    std::vector<std::array<std::uint32_t, 2>> between; // per new vertex: the welded vertices it lies
                                                       // between; twice the same for a moved old one

    std::size_t vertexCount() const { return first.size() - 1; }
};

/// New vertex v < surface.vertexCount() is the welded vertex v, moved.
SmoothPreview smoothPreview(const Surface& surface);

std::vector<Vec3> smoothed(const SmoothPreview& preview, const std::vector<Vec3>& weldedPositions);

} // namespace hobble
