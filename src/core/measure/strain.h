#pragma once
// Stretch, squash, area change and shear of triangles, from neutral to posed: the singular values σ1 ≥ σ2 of
// the 2 × 2 deformation gradient between the triangle's own planes (Bonet and Wood 2008, "Nonlinear Continuum
// Mechanics for Finite Element Analysis", chapter 4). Stretch is σ1, squash σ2, area change σ1·σ2, shear
// σ1/σ2.
#include "core/character/surface.h"
#include "core/measure/quantile.h"

#include <span>

namespace hobble {

struct Strain {
    float stretch = 1; // σ1
    float squash = 1;  // σ2
};

/// What a triangle was in neutral: the inverse of its upper-triangular edge matrix [l1 x; 0 h].
struct RestTriangle {
    float invL1 = 0, x = 0, invH = 0; // 1 / l1, x, 1 / h
};

std::vector<RestTriangle> restTriangles(const Surface& surface, const std::vector<Vec3>& neutralWelded);

/// Strain of one triangle posed at a, b, c.
Strain strainOf(const RestTriangle& rest, const Vec3& a, const Vec3& b, const Vec3& c);

/// Strain of each triangle, in vector registers where the machine has them. `triangles` and `rest` pair up;
/// `posed` has one position per vertex they name.
void strains(std::span<const Triangle> triangles, std::span<const RestTriangle> rest,
             const std::vector<Vec3>& posed, std::vector<Strain>& out);

/// Per welded vertex, the area-weighted mean over its triangles; 1 where it has none.
std::vector<Strain> vertexStrains(const Surface& surface, const std::vector<Strain>& perTriangle);

} // namespace hobble
