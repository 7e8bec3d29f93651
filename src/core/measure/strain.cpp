#include "core/measure/strain.h"

#include <algorithm>
#include <cmath>
#include <limits>

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
    const float mean = 0.5f * (g11 + g22);
    const float spread = std::hypot(0.5f * (g11 - g22), g12);
    const float big = mean + spread;
    const float det =
        std::max(g11 * g22 - g12 * g12, 0.f); // (σ1 σ2)², free of the cancellation in mean − spread
    return {std::sqrt(big), big > 0 ? std::sqrt(det / big) : 0.f};
}

void strains(const Surface& surface, const std::vector<RestTriangle>& rest, const std::vector<Vec3>& posed,
             std::vector<Strain>& out) {
    out.resize(surface.triangles.size());
    for (std::size_t t = 0; t < out.size(); ++t) {
        const auto& [a, b, c] = surface.triangles[t];
        out[t] = strainOf(rest[t], posed[a], posed[b], posed[c]);
    }
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

double weightedQuantile(std::vector<std::pair<float, float>> items, double share) {
    if (items.empty())
        return std::numeric_limits<double>::quiet_NaN();
    std::sort(items.begin(), items.end());
    double total = 0;
    for (const auto& [value, weight] : items)
        total += weight;
    double sum = 0;
    for (const auto& [value, weight] : items) {
        sum += weight;
        if (sum >= share * total)
            return value;
    }
    return items.back().first;
}

} // namespace hobble
