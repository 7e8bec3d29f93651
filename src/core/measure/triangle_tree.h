#pragma once
// A tree of boxes over triangles, built once on the neutral surface and refitted to every pose: rays and
// crossings without looking at every triangle (refitting: van den Bergen 1997, "Efficient Collision Detection
// of Complex Deformable Models using AABB Trees").
#include "core/four_lanes.h"
#include "core/geometry.h"

#include <cmath>
#include <functional>

namespace hobble {

struct TriangleTree {
    static constexpr std::uint32_t kLeaf = 4; // triangles of a leaf, at most
    struct Node {
        std::uint32_t first =
            0; // leaf: its first triangle; otherwise its left child, the right one follows it
        std::uint32_t count = 0; // triangles of a leaf; 0 for the others

        bool operator==(const Node&) const = default;
    };
    std::vector<Node> nodes;             // the root first, children after their parent
    std::vector<std::uint32_t> triangle; // in the order of the leaves

    bool operator==(const TriangleTree&) const = default;
};

/// Of a node, in one pose; the fourth lane is there for the registers, and meets everything.
struct NodeBox {
    FourLanes low{INFINITY, INFINITY, INFINITY, 0}, high{-INFINITY, -INFINITY, -INFINITY, INFINITY};

    void extend(const Vec3& p) {
        low = low.min(FourLanes(p.x(), p.y(), p.z(), 0));
        high = high.max(FourLanes(p.x(), p.y(), p.z(), INFINITY));
    }
    void extend(const NodeBox& b) {
        low = low.min(b.low);
        high = high.max(b.high);
    }
    bool meets(const NodeBox& b) const { return allAtMost(low, b.high) && allAtMost(b.low, high); }
    /// From a point to the nearest of the box, squared; `at` with any fourth lane ≥ 0.
    float squaredTo(const FourLanes& at) const { return (low - at).max(at - high).max(0.f).square().sum(); }
};
using Boxes = std::vector<NodeBox>; // of a tree's nodes

TriangleTree buildTree(const std::vector<Triangle>& triangles, const std::vector<std::uint32_t>& which,
                       const std::vector<Vec3>& positions);
void refit(const TriangleTree& tree, const std::vector<Triangle>& triangles,
           const std::vector<Vec3>& positions, Boxes& boxes);

/// Ascending: all those wanted that a plane may cut within a box, and few others. `normal` is of length one.
std::vector<std::uint32_t> trianglesAtPlane(const TriangleTree& tree, const Boxes& boxes, const Vec3d& point,
                                            const Vec3d& normal, const Eigen::AlignedBox3f& within,
                                            const std::function<bool(std::uint32_t)>& wanted);

struct RayHit {
    float distance = INFINITY; // in lengths of the direction
    std::uint32_t triangle = ~0u;
    bool fromBehind = false; // the ray leaves through it
};

/// The first triangle a ray meets farther than `least` and nearer than `most`; triangles at vertex `skip`,
/// and those not flagged in `only`, are left out.
RayHit castRay(const TriangleTree& tree, const Boxes& boxes, const std::vector<Triangle>& triangles,
               const std::vector<Vec3>& positions, const Vec3& from, const Vec3& direction, float least,
               float most, std::uint32_t skip = ~0u, const std::vector<char>* only = nullptr);

/// Calls `met(triangle, fromBehind)` for each triangle a ray meets, in no order; those at vertex `skip` are
/// left out.
void castThrough(const TriangleTree& tree, const Boxes& boxes, const std::vector<Triangle>& triangles,
                 const std::vector<Vec3>& positions, const Vec3& from, const Vec3& direction,
                 std::uint32_t skip, const std::function<void(std::uint32_t, bool)>& met);

struct WayOut {
    float distance = INFINITY;
    std::uint32_t triangle = ~0u;
    Vec3 at = Vec3::Zero(); // on it
};

/// Of one triangle the nearest place seen from behind: straight or nearly straight onto its inner side. That
/// a point lies on a surface does not make it its own way out: what is beside it is seen along the skin.
/// Nothing where it is farther than `most`.
WayOut wayOutThrough(const Triangle& triangle, std::uint32_t number, const std::vector<Vec3>& positions,
                     const Vec3& from, float most);

/// The same of all `wanted` triangles of a tree.
WayOut nearestFromBehind(const TriangleTree& tree, const Boxes& boxes, const std::vector<Triangle>& triangles,
                         const std::vector<Vec3>& positions, const Vec3& from, float most,
                         const std::function<bool(std::uint32_t)>& wanted);

/// Whether two triangles cross (an edge of one goes through the other; Möller and Trumbore 1997 for each
/// edge).
bool trianglesCross(const Triangle& a, const Triangle& b, const std::vector<Vec3>& positions);

/// Whether the edge between two vertices goes through a triangle.
bool edgeThrough(std::uint32_t from, std::uint32_t to, const Triangle& triangle,
                 const std::vector<Vec3>& positions);

} // namespace hobble
