#pragma once
// The place of a triangle nearest to a point, and a tree's triangles from near to far (Ericson 2004,
// "Real-Time Collision Detection", 5.1.5).
#include "core/measure/triangle_tree.h"

#include <utility>

namespace hobble {

inline Vec3 closestOn(const Vec3& p, const Vec3& a, const Vec3& b, const Vec3& c) {
    const Vec3 ab = b - a, ac = c - a, ap = p - a;
    const float d1 = ab.dot(ap), d2 = ac.dot(ap);
    if (d1 <= 0 && d2 <= 0)
        return a;
    const Vec3 bp = p - b;
    const float d3 = ab.dot(bp), d4 = ac.dot(bp);
    if (d3 >= 0 && d4 <= d3)
        return b;
    const float vc = d1 * d4 - d3 * d2;
    if (vc <= 0 && d1 >= 0 && d3 <= 0)
        return a + d1 / (d1 - d3) * ab;
    const Vec3 cp = p - c;
    const float d5 = ab.dot(cp), d6 = ac.dot(cp);
    if (d6 >= 0 && d5 <= d6)
        return c;
    const float vb = d5 * d2 - d1 * d6;
    if (vb <= 0 && d2 >= 0 && d6 <= 0)
        return a + d2 / (d2 - d6) * ac;
    const float va = d3 * d6 - d5 * d4;
    if (va <= 0 && d4 >= d3 && d5 >= d6)
        return b + (d4 - d3) / ((d4 - d3) + (d5 - d6)) * (c - b);
    const float whole = va + vb + vc;
    return a + vb / whole * ab + vc / whole * ac;
}

/// Asks a tree's triangles from near to far: those whose box lies, squared, nearer to `from` than `least()`,
/// which may fall while they are asked.
template <class Least, class Ask>
void askFromNear(const TriangleTree& tree, const Boxes& boxes, const Vec3& from, Least&& least, Ask&& ask) {
    if (tree.nodes.empty())
        return;
    const FourLanes here(from.x(), from.y(), from.z(), 0);
    struct Waiting {
        std::uint32_t node;
        float squared;
    } stack[96];
    int top = 0;
    stack[top++] = {0, 0};
    while (top > 0) {
        const auto [n, squared] = stack[--top];
        if (squared >= least())
            continue;
        const auto [first, count] = tree.nodes[n];
        for (std::uint32_t i = first; i < first + count; ++i)
            ask(tree.triangle[i]);
        if (count > 0)
            continue;
        Waiting near{first, boxes[first].squaredTo(here)}, far{first + 1, boxes[first + 1].squaredTo(here)};
        if (far.squared < near.squared)
            std::swap(near, far);
        stack[top++] = far;
        stack[top++] = near;
    }
}

} // namespace hobble
