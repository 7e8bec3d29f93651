#include "core/measure/triangle_tree.h"

#include "core/measure/closest_point.h"

#include <algorithm>

namespace hobble {

TriangleTree buildTree(const std::vector<Triangle>& triangles, const std::vector<std::uint32_t>& which,
                       const std::vector<Vec3>& p) {
    TriangleTree tree;
    tree.triangle = which;
    if (which.empty())
        return tree;
    std::vector<Vec3> middle(triangles.size());
    for (std::uint32_t t : which)
        middle[t] = (p[triangles[t][0]] + p[triangles[t][1]] + p[triangles[t][2]]) / 3;
    tree.nodes.push_back({0, static_cast<std::uint32_t>(which.size())});
    for (std::size_t n = 0; n < tree.nodes.size(); ++n) { // halved at the median of the longest side
        const auto [first, count] = tree.nodes[n];
        if (count <= TriangleTree::kLeaf)
            continue;
        Eigen::AlignedBox3f box;
        for (std::uint32_t i = first; i < first + count; ++i)
            box.extend(middle[tree.triangle[i]]);
        Eigen::Index axis;
        box.sizes().maxCoeff(&axis);
        const auto begin = tree.triangle.begin() + first;
        std::nth_element(begin, begin + count / 2, begin + count, [&](std::uint32_t a, std::uint32_t b) {
            return middle[a][axis] != middle[b][axis] ? middle[a][axis] < middle[b][axis] : a < b;
        });
        tree.nodes[n] = {static_cast<std::uint32_t>(tree.nodes.size()), 0};
        tree.nodes.push_back({first, count / 2});
        tree.nodes.push_back({first + count / 2, count - count / 2});
    }
    return tree;
}

namespace {

// A position in a register; whatever stands behind it is in the fourth lane.
FourLanes fourFrom(const std::vector<Vec3>& p, std::uint32_t v) {
    return v + 1 < p.size() ? FourLanes(Eigen::Map<const FourLanes>(p[v].data()))
                            : FourLanes(p[v].x(), p[v].y(), p[v].z(), 0);
}

} // namespace

void refit(const TriangleTree& tree, const std::vector<Triangle>& triangles, const std::vector<Vec3>& p,
           Boxes& boxes) {
    boxes.resize(tree.nodes.size());
    for (std::size_t n = tree.nodes.size(); n-- > 0;) {
        const auto [first, count] = tree.nodes[n];
        boxes[n] = {};
        if (count == 0) {
            boxes[n].extend(boxes[first]);
            boxes[n].extend(boxes[first + 1]);
        }
        NodeBox& box = boxes[n];
        for (std::uint32_t i = first; i < first + count; ++i)
            for (std::uint32_t v : triangles[tree.triangle[i]]) {
                const FourLanes at = fourFrom(p, v);
                box.low = box.low.min(at);
                box.high = box.high.max(at);
            }
        box.low[3] = 0;
        box.high[3] = INFINITY;
    }
}

std::vector<std::uint32_t> trianglesAtPlane(const TriangleTree& tree, const Boxes& boxes, const Vec3d& point,
                                            const Vec3d& normal, const Eigen::AlignedBox3f& within,
                                            const std::function<bool(std::uint32_t)>& wanted) {
    std::vector<std::uint32_t> out, waiting;
    if (!tree.nodes.empty())
        waiting.push_back(0);
    while (!waiting.empty()) {
        const std::uint32_t n = waiting.back();
        waiting.pop_back();
        const Vec3 least = boxes[n].low.head<3>(), most = boxes[n].high.head<3>();
        if (!within.intersects(Eigen::AlignedBox3f(least, most)))
            continue;
        const Vec3d low = least.cast<double>(), high = most.cast<double>();
        const double reach = 0.5 * (high - low).dot(normal.cwiseAbs());
        if (std::abs(normal.dot(0.5 * (low + high) - point)) > reach * (1 + 1e-9) + 1e-12)
            continue;
        const auto [first, count] = tree.nodes[n];
        if (count == 0)
            waiting.insert(waiting.end(), {first, first + 1});
        for (std::uint32_t i = first; i < first + count; ++i)
            if (wanted(tree.triangle[i]))
                out.push_back(tree.triangle[i]);
    }
    std::sort(out.begin(), out.end());
    return out;
}

namespace {

// A ray for the registers: its fourth lane is in every box.
struct Ray {
    FourLanes from, inverse;

    Ray(const Vec3& at, const Vec3& direction) : from(at.x(), at.y(), at.z(), 0) {
        for (int i = 0; i < 3; ++i)
            inverse[i] =
                1 / (std::abs(direction[i]) > 1e-20f ? direction[i] : std::copysign(1e-20f, direction[i]));
        inverse[3] = 1;
    }
    // Where it enters a box, at `least` ≥ 0 or later; infinite where it does not before `most`.
    float enters(const NodeBox& box, float least, float most) const {
        const FourLanes a = (box.low - from) * inverse, b = (box.high - from) * inverse;
        const float in = std::max(greatestOf(a.min(b)), least), out = std::min(leastOf(a.max(b)), most);
        return in <= out ? in : INFINITY;
    }
};

// Where a ray meets a triangle, in lengths of its direction (Möller and Trumbore 1997); NaN where it does
// not.
float alongRay(const Vec3& from, const Vec3& direction, const Triangle& f, const std::vector<Vec3>& p,
               bool& fromBehind) {
    const Vec3 e1 = p[f[1]] - p[f[0]], e2 = p[f[2]] - p[f[0]], q = direction.cross(e2);
    const float det = e1.dot(q);
    if (std::abs(det) < 1e-20f)
        return NAN;
    const Vec3 s = from - p[f[0]], r = s.cross(e1);
    const float a = s.dot(q) / det, b = direction.dot(r) / det;
    if (a < 0 || b < 0 || a + b > 1)
        return NAN;
    fromBehind = det < 0; // along the normal, so outwards
    return e2.dot(r) / det;
}

} // namespace

RayHit castRay(const TriangleTree& tree, const Boxes& boxes, const std::vector<Triangle>& triangles,
               const std::vector<Vec3>& p, const Vec3& from, const Vec3& direction, float least, float most,
               std::uint32_t skip, const std::vector<char>* only) {
    RayHit hit;
    hit.distance = most;
    if (tree.nodes.empty())
        return hit;
    const Ray ray(from, direction);
    struct Waiting {
        std::uint32_t node;
        float enters;
    } stack[96];
    int top = 0;
    const auto entry = [&](std::uint32_t n) { return ray.enters(boxes[n], least, hit.distance); };
    if (const float enters = entry(0); enters < INFINITY)
        stack[top++] = {0, enters};
    while (top > 0) {
        const auto [n, enters] = stack[--top];
        if (enters > hit.distance)
            continue; // something nearer was met meanwhile
        const auto [first, count] = tree.nodes[n];
        if (count == 0) { // the nearer one next
            Waiting near{first, entry(first)}, far{first + 1, entry(first + 1)};
            if (far.enters < near.enters)
                std::swap(near, far);
            if (far.enters < INFINITY)
                stack[top++] = far;
            if (near.enters < INFINITY)
                stack[top++] = near;
            continue;
        }
        for (std::uint32_t i = first; i < first + count; ++i) {
            const Triangle& f = triangles[tree.triangle[i]];
            if (f[0] == skip || f[1] == skip || f[2] == skip || (only && !(*only)[tree.triangle[i]]))
                continue;
            bool fromBehind;
            const float d = alongRay(from, direction, f, p, fromBehind);
            if (d > least && d < hit.distance)
                hit = {d, tree.triangle[i], fromBehind};
        }
    }
    return hit;
}

void castThrough(const TriangleTree& tree, const Boxes& boxes, const std::vector<Triangle>& triangles,
                 const std::vector<Vec3>& p, const Vec3& from, const Vec3& direction, std::uint32_t skip,
                 const std::function<void(std::uint32_t, bool)>& met) {
    if (tree.nodes.empty())
        return;
    const Ray ray(from, direction);
    std::uint32_t stack[96];
    int top = 0;
    stack[top++] = 0;
    while (top > 0) {
        const std::uint32_t n = stack[--top];
        if (!(ray.enters(boxes[n], 0, INFINITY) < INFINITY))
            continue;
        const auto [first, count] = tree.nodes[n];
        if (count == 0) {
            stack[top++] = first;
            stack[top++] = first + 1;
        }
        for (std::uint32_t i = first; i < first + count; ++i) {
            const Triangle& f = triangles[tree.triangle[i]];
            bool fromBehind;
            if (f[0] != skip && f[1] != skip && f[2] != skip &&
                alongRay(from, direction, f, p, fromBehind) > 1e-6f)
                met(tree.triangle[i], fromBehind);
        }
    }
}

WayOut wayOutThrough(const Triangle& t, std::uint32_t number, const std::vector<Vec3>& p, const Vec3& from,
                     float most) {
    constexpr float kStraight = 0.7f; // cosine to the normal: at an edge, onto one of its two triangles
    const Vec3 &a = p[t[0]], &b = p[t[1]], &c = p[t[2]];
    const Vec3 normal = (b - a).cross(c - a);
    const float height = (a - from).dot(normal), area = normal.norm();
    if (height <= 0 || height >= most * area) // before it, or its plane is too far already
        return {};
    const Vec3 at = closestOn(from, a, b, c), way = at - from;
    const float distance = way.norm();
    if (distance >= most || way.dot(normal) < kStraight * distance * area)
        return {};
    return {distance, number, at};
}

WayOut nearestFromBehind(const TriangleTree& tree, const Boxes& boxes, const std::vector<Triangle>& triangles,
                         const std::vector<Vec3>& p, const Vec3& from, float most,
                         const std::function<bool(std::uint32_t)>& wanted) {
    WayOut out;
    out.distance = most;
    const auto ask = [&](std::uint32_t t) {
        const WayOut found = wayOutThrough(triangles[t], t, p, from, out.distance);
        if (found.triangle != ~0u && wanted(t))
            out = found;
    };
    askFromNear(
        tree, boxes, from, [&] { return out.distance * out.distance; }, ask);
    if (out.triangle == ~0u)
        out.distance = INFINITY;
    return out;
}

namespace {

bool edgeThrough(const Vec3& from, const Vec3& to, const Vec3& a, const Vec3& b, const Vec3& c) {
    const Vec3 way = to - from, e1 = b - a, e2 = c - a, q = way.cross(e2);
    const float det = e1.dot(q);
    if (det == 0)
        return false;
    const Vec3 s = from - a;
    const float u = s.dot(q) / det;
    if (!(u >= 0 && u <= 1))
        return false;
    const Vec3 r = s.cross(e1);
    const float v = way.dot(r) / det, t = e2.dot(r) / det;
    return v >= 0 && u + v <= 1 && t >= 0 && t <= 1;
}

} // namespace

bool trianglesCross(const Triangle& x, const Triangle& y, const std::vector<Vec3>& p) {
    // Wholly to one side of the other's plane, by far more than rounding: they cannot cross.
    for (const auto& [plane, other] : {std::pair(&x, &y), std::pair(&y, &x)}) {
        const Vec3 &a = p[(*plane)[0]], e1 = p[(*plane)[1]] - a, e2 = p[(*plane)[2]] - a, n = e1.cross(e2);
        const float u = n.dot(p[(*other)[0]] - a), v = n.dot(p[(*other)[1]] - a),
                    w = n.dot(p[(*other)[2]] - a);
        const float rounding = 1e-5f * (std::abs(u) + std::abs(v) + std::abs(w));
        if (std::min({u, v, w}) > rounding || std::max({u, v, w}) < -rounding)
            return false;
    }
    for (int k = 0; k < 3; ++k)
        if (edgeThrough(p[x[k]], p[x[(k + 1) % 3]], p[y[0]], p[y[1]], p[y[2]]) ||
            edgeThrough(p[y[k]], p[y[(k + 1) % 3]], p[x[0]], p[x[1]], p[x[2]]))
            return true;
    return false;
}

bool edgeThrough(std::uint32_t from, std::uint32_t to, const Triangle& t, const std::vector<Vec3>& p) {
    return edgeThrough(p[from], p[to], p[t[0]], p[t[1]], p[t[2]]);
}

} // namespace hobble
