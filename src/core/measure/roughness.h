#pragma once
// Roughness: ‖δ′ − Rδ‖ / mean edge length. δ is the vertex's Laplacian vector (mean of its neighbours minus
// itself), δ′ the same when posed, and R the rotation that best carries its one-ring from neutral to posed:
// the polar factor (Higham 1986, "Computing the Polar Decomposition") of Σ e′eᵀ with the normal added, so
// that a flat ring has one too. Bumps, folds and flying vertices are rough; what turns, stretches or bends
// evenly is not. And flips: triangles whose normal turned against the locally rotated neutral normal.
#include "core/character/surface.h"

namespace hobble {

struct Subject;
struct MotionRegion;

struct RestRing {
    Vec3 delta = Vec3::Zero(), normal = Vec3::UnitY(); // unit normal; zero where there is no ring
    float edge = 0;                                    // mean length, metres; 0 where there is no ring
};

std::vector<RestRing> restRings(const Surface& surface, const std::vector<Vec3>& neutralWelded);

struct Roughness {
    std::vector<float> value;              // per region vertex
    std::vector<Eigen::Matrix3f> rotation; // per region vertex
};

/// As its definition reads: what the fast one below is tested against.
void roughness(const Subject& subject, const MotionRegion& region, const std::vector<Vec3>& posedWelded,
               Roughness& out);

/// A region's vertices as vector registers take them: sixteen at a time, of about as many neighbours.
struct RingLanes {
    static constexpr std::size_t kLanes = 16;
    std::vector<std::uint32_t> place;  // per lane: in the region's vertices; the last group repeats its last
    std::vector<std::uint32_t> vertex; // per lane: welded vertex
    std::vector<float> rest; // per group eight rows of lanes: δ, unit normal, mean edge, 1 / neighbours
    std::vector<std::uint32_t> first; // per group, its first row in the two below; one more at the end
    // Rows of lanes: first the last neighbour of each ring, then all in order, then the vertex itself where
    // others of the group have more.
    std::vector<std::uint32_t> neighbour;
    std::vector<float> edge;           // three rows (x, y, z) to each: from the vertex to it, neutral
    std::vector<std::uint32_t> others; // places of vertices without a whole ring: one by one
};

/// One vertex, by its place in the region.
void roughnessAt(const Subject& subject, const MotionRegion& region, std::size_t place,
                 const std::vector<Vec3>& posedWelded, Roughness& out);

RingLanes ringLanes(const Subject& subject, const MotionRegion& region);

/// The same, in vector registers where the machine has them.
void roughness(const Subject& subject, const MotionRegion& region, const RingLanes& lanes,
               const std::vector<Vec3>& posedWelded, Roughness& out);

/// Flags region triangles that are flipped.
void flips(const Subject& subject, const MotionRegion& region, const std::vector<Vec3>& posedWelded,
           const Roughness& rings, std::vector<char>& out);

/// The rotation nearest to m; identity where m has none.
Eigen::Matrix3f nearestRotation(const Eigen::Matrix3f& m);

} // namespace hobble
