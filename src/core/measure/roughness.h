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

void roughness(const Subject& subject, const MotionRegion& region, const std::vector<Vec3>& posedWelded,
               Roughness& out);

/// Flags region triangles that are flipped.
void flips(const Subject& subject, const MotionRegion& region, const std::vector<Vec3>& posedWelded,
           const Roughness& rings, std::vector<char>& out);

/// The rotation nearest to m; identity where m has none.
Eigen::Matrix3f nearestRotation(const Eigen::Matrix3f& m);

} // namespace hobble
