#include "implicit.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace hobble::demo {

namespace {

double smoothMin(double a, double b, double k) {
    const double h = std::max(k - std::abs(a - b), 0.0) / std::max(k, 1e-9);
    return std::min(a, b) - h * h * k * 0.25;
}

} // namespace

double Solid::distance(const Vec3d& p) const {
    if (shape == Shape::Cone) {
        const Vec3d ab = b - a;
        const double t = std::clamp((p - a).dot(ab) / std::max(ab.squaredNorm(), 1e-12), 0.0, 1.0);
        return (p - a - t * ab).norm() - (ra + t * (rb - ra));
    }
    const Vec3d q = turn.transpose() * (p - a);
    if (shape == Shape::Box) {
        const Vec3d d = q.cwiseAbs() - (size - Vec3d::Constant(ra));
        return d.cwiseMax(0).norm() + std::min(d.maxCoeff(), 0.0) - ra;
    }
    const double k0 = q.cwiseQuotient(size).norm(), k1 = q.cwiseQuotient(size.cwiseProduct(size)).norm();
    return k1 > 1e-12 ? k0 * (k0 - 1) / k1 : -size.minCoeff();
}

double field(const std::vector<Solid>& solids, const Vec3d& p) {
    double d = 1e9;
    for (const Solid& s : solids)
        d = s.carve ? -smoothMin(-d, s.distance(p), s.blend) : smoothMin(d, s.distance(p), s.blend);
    return d;
}

namespace {

Vec3d gradient(const std::vector<Solid>& s, const Vec3d& p) {
    constexpr double e = 1e-4;
    Vec3d g;
    for (int i = 0; i < 3; ++i) {
        Vec3d d = Vec3d::Zero();
        d[i] = e;
        g[i] = (field(s, p + d) - field(s, p - d)) / (2 * e);
    }
    return g;
}

} // namespace

Vec3d pulled(const std::vector<Solid>& s, Vec3d p, double most) {
    for (int i = 0; i < 4; ++i) {
        const Vec3d g = gradient(s, p);
        const double n = g.squaredNorm();
        if (n < 1e-6)
            break;
        Vec3d step = g * (field(s, p) / n);
        if (step.norm() > most)
            step *= most / step.norm();
        p -= step;
    }
    return p;
}

namespace {

// Grid lines of one axis from `lo` to `hi`, laid outwards from half a cell either side of zero.
std::vector<double> gridLines(const Spacing& spacing, int axis, double lo, double hi) {
    std::vector<double> up, down;
    for (double at = 0.5 * spacing(axis, 0);; at += spacing(axis, at)) {
        up.push_back(at);
        if (at > hi)
            break;
    }
    for (double at = -0.5 * spacing(axis, 0);; at -= spacing(axis, at)) {
        down.push_back(at);
        if (at < lo)
            break;
    }
    std::vector<double> lines(down.rbegin(), down.rend());
    lines.insert(lines.end(), up.begin(), up.end());
    const auto first = std::upper_bound(lines.begin(), lines.end(), lo);
    return {first == lines.begin() ? first : first - 1, lines.end()};
}

} // namespace

Mesh polygonize(const std::vector<Solid>& solids, double cell) {
    return polygonize(solids, [cell](int, double) { return cell; });
}

Mesh polygonize(const std::vector<Solid>& solids, const Spacing& spacing) {
    Eigen::AlignedBox3d box;
    for (const Solid& s : solids) {
        if (s.carve)
            continue;
        const double r = s.shape == Solid::Shape::Cone ? std::max(s.ra, s.rb) : s.size.norm();
        for (const Vec3d& c : {s.a, s.shape == Solid::Shape::Cone ? s.b : s.a})
            box.extend(Eigen::AlignedBox3d(c - Vec3d::Constant(r), c + Vec3d::Constant(r)));
    }
    std::vector<double> lines[3];
    Eigen::Vector3i n;
    double cell = 1; // the finest
    for (int i = 0; i < 3; ++i) {
        const double margin = 2 * spacing(i, box.min()[i]), far = 2 * spacing(i, box.max()[i]);
        lines[i] = gridLines(spacing, i, box.min()[i] - margin, box.max()[i] + far);
        n[i] = static_cast<int>(lines[i].size());
        for (int k = 1; k < n[i]; ++k)
            cell = std::min(cell, lines[i][k] - lines[i][k - 1]);
    }
    auto corner = [&](int x, int y, int z) -> Vec3d { return Vec3d(lines[0][x], lines[1][y], lines[2][z]); };
    auto id = [&](int x, int y, int z) { return (std::size_t(z) * n[1] + y) * n[0] + x; };
    std::vector<float> value(id(0, 0, n[2]));
    for (int z = 0; z < n[2]; ++z)
        for (int y = 0; y < n[1]; ++y)
            for (int x = 0; x < n[0]; ++x)
                value[id(x, y, z)] = static_cast<float>(field(solids, corner(x, y, z)));

    // One vertex in each cell the surface passes through, at the mean of its crossings.
    Mesh mesh;
    std::vector<std::int32_t> vertexOf(value.size(), -1);
    for (int z = 0; z + 1 < n[2]; ++z)
        for (int y = 0; y + 1 < n[1]; ++y)
            for (int x = 0; x + 1 < n[0]; ++x) {
                Vec3d sum = Vec3d::Zero();
                int crossings = 0;
                for (int e = 0; e < 12; ++e) {
                    const int axis = e / 4, u = e & 1, w = (e >> 1) & 1;
                    Eigen::Vector3i a(x, y, z);
                    a[(axis + 1) % 3] += u;
                    a[(axis + 2) % 3] += w;
                    Eigen::Vector3i b = a;
                    b[axis] += 1;
                    const double va = value[id(a[0], a[1], a[2])], vb = value[id(b[0], b[1], b[2])];
                    if ((va < 0) == (vb < 0))
                        continue;
                    const double t = va / (va - vb);
                    sum += corner(a[0], a[1], a[2]) * (1 - t) + corner(b[0], b[1], b[2]) * t;
                    ++crossings;
                }
                if (crossings) {
                    vertexOf[id(x, y, z)] = static_cast<std::int32_t>(mesh.position.size());
                    mesh.position.push_back((sum / crossings).cast<float>());
                }
            }
    // A quad around each grid edge that crosses the surface.
    std::vector<std::array<std::uint32_t, 4>> quads;
    for (int z = 1; z + 1 < n[2]; ++z)
        for (int y = 1; y + 1 < n[1]; ++y)
            for (int x = 1; x + 1 < n[0]; ++x)
                for (int axis = 0; axis < 3; ++axis) {
                    Eigen::Vector3i p(x, y, z), q = p;
                    q[axis] += 1;
                    const bool inP = value[id(p[0], p[1], p[2])] < 0, inQ = value[id(q[0], q[1], q[2])] < 0;
                    if (inP == inQ)
                        continue;
                    Eigen::Vector3i u = Eigen::Vector3i::Zero(), w = u;
                    u[(axis + 1) % 3] = 1;
                    w[(axis + 2) % 3] = 1;
                    std::array<std::uint32_t, 4> quad;
                    const Eigen::Vector3i around[4] = {p - u - w, p - w, p, p - u};
                    for (int k = 0; k < 4; ++k)
                        quad[k] = std::uint32_t(vertexOf[id(around[k][0], around[k][1], around[k][2])]);
                    if (!inP)
                        std::swap(quad[1], quad[3]);
                    quads.push_back(quad);
                }

    std::vector<std::vector<std::uint32_t>> around(mesh.position.size());
    for (const auto& q : quads)
        for (int k = 0; k < 4; ++k) {
            around[q[k]].push_back(q[(k + 1) % 4]);
            around[q[k]].push_back(q[(k + 3) % 4]);
        }
    for (int pass = 0; pass < 8; ++pass) {
        std::vector<Vec3> next(mesh.position.size());
        for (std::size_t v = 0; v < next.size(); ++v) {
            Vec3d mean = Vec3d::Zero();
            for (std::uint32_t o : around[v])
                mean += mesh.position[o].cast<double>();
            const Vec3d here = mesh.position[v].cast<double>();
            const Vec3d goal =
                around[v].empty() ? here : Vec3d(here + 0.5 * (mean / double(around[v].size()) - here));
            next[v] = pulled(solids, goal, 0.5 * cell).cast<float>();
        }
        mesh.position = std::move(next);
    }
    // No cut may lie on another edge: quads around a thin place can share opposite corners.
    std::set<std::pair<std::uint32_t, std::uint32_t>> edges;
    for (const auto& q : quads)
        for (int k = 0; k < 4; ++k)
            edges.insert(std::minmax(q[k], q[(k + 1) % 4]));
    for (const auto& q : quads) { // split along the shorter diagonal
        const auto& p = mesh.position;
        const auto cut = std::minmax(q[0], q[2]);
        if ((p[q[0]] - p[q[2]]).norm() <= (p[q[1]] - p[q[3]]).norm() && edges.insert(cut).second) {
            mesh.triangles.push_back({q[0], q[1], q[2]});
            mesh.triangles.push_back({q[0], q[2], q[3]});
        } else {
            edges.insert(std::minmax(q[1], q[3]));
            mesh.triangles.push_back({q[0], q[1], q[3]});
            mesh.triangles.push_back({q[1], q[2], q[3]});
        }
    }
    return mesh;
}

} // namespace hobble::demo
