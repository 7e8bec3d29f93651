#pragma once
// What a person points at: the first skin a ray meets. The tree is built once for a character and refitted to
// each pose, so that a move of the pointer costs microseconds, however large the mesh.
#include "core/character/surface.h"
#include "core/measure/triangle_tree.h"

#include <memory>
#include <optional>

namespace hobble {

/// Over all of the surface; `neutral` has one position per welded vertex.
TriangleTree skinTree(const Surface& surface, const std::vector<Vec3>& neutral);

/// The skin in one pose, ready to be met by rays.
struct PosedSkin {
    std::shared_ptr<const TriangleTree> tree;
    std::vector<Vec3> welded; // per welded vertex
    Boxes boxes;
};

PosedSkin posedSkin(const Surface& surface, std::shared_ptr<const TriangleTree> tree,
                    const std::vector<Vec3>& filePositions);

struct SkinHit {
    std::uint32_t triangle = 0; // of the file
    std::uint32_t vertex = 0;   // of the file: the corner nearest to the point
    Vec3d point = Vec3d::Zero();
};

/// `shown` flags triangles of the surface; null: all of them.
std::optional<SkinHit> firstSkin(const Character& character, const Surface& surface, const PosedSkin& skin,
                                 const Vec3d& from, const Vec3d& direction, const std::vector<char>* shown);

} // namespace hobble
