#pragma once
// Girth: plane cuts across the limb, taken in the neutral pose and carried with the skin as points on edges.
// The area of a cut is the length of its vector area ½‖Σ pᵢ × pᵢ₊₁‖, which needs no plane once the limb is
// posed.
#include "core/character/surface.h"

#include <optional>

namespace hobble {

/// A point at share t from welded vertex a to welded vertex b.
struct EdgePoint {
    std::uint32_t a = 0, b = 0;
    float t = 0;

    bool operator==(const EdgePoint&) const = default;
};

struct Section {
    double offset = 0;             // metres along the limb from the joint, towards the tip
    std::vector<EdgePoint> points; // the closed loop; empty when the cut is open
    double neutralArea = 0;        // m²

    bool operator==(const Section&) const = default;
};

struct LimbSections {
    std::vector<Section> stations; // kGirthStations of them, from the root side to the tip side

    bool operator==(const LimbSections&) const = default;
};

inline constexpr int kGirthStations = 9;

/// Closed loops in which a plane cuts the given triangles.
std::vector<std::vector<EdgePoint>> planeCut(const Surface& surface,
                                             const std::vector<std::uint32_t>& triangles,
                                             const std::vector<Vec3>& positions, const Vec3d& point,
                                             const Vec3d& normal);

/// Area of a carried loop, m².
double sectionArea(const std::vector<EdgePoint>& loop, const std::vector<Vec3>& positions);

/// The loop of a plane cut that goes around `centre`, the smallest if several do; nothing when none closes.
std::optional<std::vector<EdgePoint>> sectionAround(const Surface& surface,
                                                    const std::vector<std::uint32_t>& triangles,
                                                    const std::vector<Vec3>& positions, const Vec3d& centre,
                                                    const Vec3d& normal);

} // namespace hobble
