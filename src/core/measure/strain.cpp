#include "core/measure/strain.h"

#include <cmath>

namespace hobble {

std::vector<RestTriangle> restTriangles(const Surface& surface, const std::vector<Vec3>& p) {
    std::vector<RestTriangle> out(surface.triangles.size());
    for (std::size_t t = 0; t < out.size(); ++t) {
        if (surface.area[t] <= 0)
            continue; // a sliver stays at zero, and strainOf() answers "unchanged"
        const auto& [a, b, c] = surface.triangles[t];
        const Vec3d e1 = (p[b] - p[a]).cast<double>(), e2 = (p[c] - p[a]).cast<double>();
        const double l1 = e1.norm(), x = e1.dot(e2) / l1, h = e1.cross(e2).norm() / l1;
        out[t] = {static_cast<float>(1 / l1), static_cast<float>(x), static_cast<float>(1 / h)};
    }
    return out;
}

Strain strainOf(const RestTriangle& rest, const Vec3& a, const Vec3& b, const Vec3& c) {
    // F = [e1 e2] · [l1 x; 0 h]⁻¹, a 3 × 2 matrix; σ² are the eigenvalues of FᵀF.
    if (rest.invL1 == 0)
        return {};
    const Vec3 f1 = (b - a) * rest.invL1;
    const Vec3 f2 = ((c - a) - rest.x * f1) * rest.invH;
    const float g11 = f1.squaredNorm(), g22 = f2.squaredNorm(), g12 = f1.dot(f2);
    const float mean = 0.5f * (g11 + g22), away = 0.5f * (g11 - g22);
    const float big = mean + std::sqrt(away * away + g12 * g12);
    // (σ1 σ2)² from the cross product: no cancellation for a triangle that has become a needle
    const float area = f1.cross(f2).squaredNorm();
    return {std::sqrt(big), big > 0 ? std::sqrt(area / big) : 0.f};
}

std::vector<Strain> vertexStrains(const Surface& surface, const std::vector<Strain>& perTriangle) {
    std::vector<Strain> out(surface.vertexCount());
    for (std::uint32_t v = 0; v < out.size(); ++v) {
        double area = 0, stretch = 0, squash = 0;
        for (auto t = surface.trianglesAt.begin(v); t != surface.trianglesAt.end(v); ++t) {
            area += surface.area[*t];
            stretch += double(surface.area[*t]) * perTriangle[*t].stretch;
            squash += double(surface.area[*t]) * perTriangle[*t].squash;
        }
        if (area > 0)
            out[v] = {static_cast<float>(stretch / area), static_cast<float>(squash / area)};
    }
    return out;
}

} // namespace hobble
