#include "core/measure/contact_lines.h"

#include <algorithm>
#include <array>
#include <optional>

namespace hobble {

namespace {

struct Cut { // of a triangle by a plane: two points
    Vec3d a, b;
};

std::optional<Cut> cutBy(const std::array<Vec3d, 3>& corner, const Vec3d& on, const Vec3d& normal) {
    std::array<double, 3> height;
    for (std::size_t i = 0; i < 3; ++i)
        height[i] = normal.dot(corner[i] - on);
    std::array<Vec3d, 2> points;
    std::size_t found = 0;
    for (std::size_t i = 0; i < 3 && found < 2; ++i) {
        const std::size_t j = (i + 1) % 3;
        if ((height[i] < 0) != (height[j] < 0))
            points[found++] = corner[i] + height[i] / (height[i] - height[j]) * (corner[j] - corner[i]);
    }
    return found == 2 ? std::optional(Cut{points[0], points[1]}) : std::nullopt;
}

} // namespace

std::vector<Vec3> contactLines(const std::vector<Triangle>& triangles, const std::vector<Vec3>& positions,
                               const std::vector<std::pair<std::uint32_t, std::uint32_t>>& pairs) {
    std::vector<Vec3> out;
    const auto corners = [&](std::uint32_t t) {
        return std::array<Vec3d, 3>{positions[triangles[t][0]].cast<double>(),
                                    positions[triangles[t][1]].cast<double>(),
                                    positions[triangles[t][2]].cast<double>()};
    };
    for (const auto& [first, second] : pairs) {
        const auto p = corners(first), q = corners(second);
        const Vec3d n = (p[1] - p[0]).cross(p[2] - p[0]), m = (q[1] - q[0]).cross(q[2] - q[0]);
        const Vec3d line = n.cross(m);
        const double length = line.norm();
        if (!(length > 1e-9 * n.norm() * m.norm()))
            continue;
        const auto ofP = cutBy(p, q[0], m), ofQ = cutBy(q, p[0], n);
        if (!ofP || !ofQ)
            continue;
        const auto along = [&](const Vec3d& x) { return line.dot(x - p[0]) / length; };
        const auto sorted = [&](Cut c) { return along(c.a) <= along(c.b) ? c : Cut{c.b, c.a}; };
        const Cut a = sorted(*ofP), b = sorted(*ofQ);
        const Vec3d from = along(a.a) > along(b.a) ? a.a : b.a, to = along(a.b) < along(b.b) ? a.b : b.b;
        if (along(from) < along(to)) {
            out.push_back(from.cast<float>());
            out.push_back(to.cast<float>());
        }
    }
    return out;
}

} // namespace hobble
