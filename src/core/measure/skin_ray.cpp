#include "core/measure/skin_ray.h"

#include <numeric>

namespace hobble {

TriangleTree skinTree(const Surface& surface, const std::vector<Vec3>& neutral) {
    std::vector<std::uint32_t> all(surface.triangles.size());
    std::iota(all.begin(), all.end(), 0u);
    return buildTree(surface.triangles, all, neutral);
}

PosedSkin posedSkin(const Surface& surface, std::shared_ptr<const TriangleTree> tree,
                    const std::vector<Vec3>& filePositions) {
    PosedSkin out;
    out.tree = std::move(tree);
    out.welded = weldedPositions(surface, filePositions);
    refit(*out.tree, surface.triangles, out.welded, out.boxes);
    return out;
}

std::optional<SkinHit> firstSkin(const Character& character, const Surface& surface, const PosedSkin& skin,
                                 const Vec3d& from, const Vec3d& direction, const std::vector<char>* shown) {
    const Vec3 eye = from.cast<float>(), ray = direction.normalized().cast<float>();
    const RayHit hit =
        castRay(*skin.tree, skin.boxes, surface.triangles, skin.welded, eye, ray, 0.f, INFINITY, ~0u, shown);
    if (hit.triangle == ~0u)
        return std::nullopt;
    SkinHit out;
    out.triangle = surface.fileTriangle[hit.triangle];
    const Vec3 point = eye + hit.distance * ray;
    out.point = point.cast<double>();
    const Triangle& corners = character.triangles[out.triangle];
    float nearest = INFINITY;
    for (std::uint32_t v : corners) {
        const float away = (skin.welded[surface.weldOf[v]] - point).squaredNorm();
        if (away < nearest) {
            nearest = away;
            out.vertex = v;
        }
    }
    return out;
}

} // namespace hobble
