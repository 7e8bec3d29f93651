#include "garment.h"

#include <cmath>
#include <map>
#include <set>

namespace hobble::demo {

std::vector<Vec3d> normals(const QuadMesh& mesh) {
    std::vector<Vec3d> out(mesh.at.size(), Vec3d::Zero());
    for (const Quad& q : mesh.quads) {
        const Vec3d n = (mesh.at[q[2]] - mesh.at[q[0]]).cross(mesh.at[q[3]] - mesh.at[q[1]]);
        for (int v : q)
            out[v] += n;
    }
    for (Vec3d& n : out)
        n = n.norm() > 0 ? Vec3d(n.normalized()) : n;
    return out;
}

Garment cutFrom(const QuadMesh& fine, const QuadMesh& coarse, double off,
                const std::function<bool(const Vec3d&, int)>& wears) {
    Garment out;
    const std::vector<Vec3d> normal = normals(fine);
    std::vector<int> copy(fine.at.size(), -1);
    for (std::size_t f = 0; f < fine.quads.size(); ++f) {
        const Quad& parent = coarse.quads[f / 4];
        Vec3d middle = Vec3d::Zero();
        for (int v : parent)
            middle += coarse.at[v] / 4;
        if (!wears(middle, fine.label[f]))
            continue;
        Quad q = fine.quads[f];
        for (int& v : q) {
            if (copy[v] < 0) {
                copy[v] = out.mesh.add({fine.at[v] + off * normal[v]})[0];
                out.from.push_back(v);
            }
            v = copy[v];
        }
        out.mesh.quads.push_back(q);
        out.mesh.label.push_back(fine.label[f]);
    }
    return out;
}

std::vector<Ring> borders(const QuadMesh& mesh) {
    std::set<std::pair<int, int>> edges;
    for (const Quad& q : mesh.quads)
        for (int k = 0; k < 4; ++k)
            edges.insert({q[k], q[(k + 1) % 4]});
    std::map<int, int> next;
    for (const auto& [a, b] : edges)
        if (!edges.count({b, a}))
            next[b] = a;
    std::vector<Ring> out;
    while (!next.empty()) {
        Ring ring;
        for (int v = next.begin()->first; next.count(v);) {
            ring.push_back(v);
            const int to = next.at(v);
            next.erase(v);
            v = to;
        }
        out.push_back(ring);
    }
    return out;
}

Ring hem(Garment& g, const Ring& border, const std::function<Vec3d(const Vec3d&)>& place,
         const std::function<bool(const Vec3d&, const Vec3d&)>& keep) {
    std::vector<Vec3d> points;
    for (int v : border) {
        points.push_back(place(g.mesh.at[v]));
        g.from.push_back(-1);
    }
    const Ring ring = g.mesh.add(points);
    const std::vector<int> row = g.mesh.stitch(border, ring, 0);
    for (std::size_t i = 0; keep && i < row.size(); ++i)
        if (!keep(g.mesh.at[border[i]], g.mesh.at[border[(i + 1) % border.size()]]))
            g.mesh.label[row[i]] = -1;
    return ring;
}

Mesh strapAround(const std::vector<Solid>& flesh, const Vec3d& centre, const Vec3d& along,
                 const Vec3d& across, double width, double thickness, double off) {
    constexpr std::uint32_t samples = 72;
    const Vec3d normal = along.cross(across).normalized();
    Mesh mesh;
    for (std::uint32_t k = 0; k < samples; ++k) {
        const double a = 2 * kPi * k / samples;
        const Vec3d out = std::cos(a) * along + std::sin(a) * across;
        const double offsets[4][2] = {
            {-width / 2, off}, {-width / 2, off + thickness}, {width / 2, off + thickness}, {width / 2, off}};
        for (const auto& o : offsets) {
            double reach = 0.5; // inwards until the skin is met, under this edge of the strap
            while (reach > 0.02 && field(flesh, centre + reach * out + o[0] * normal) > 0)
                reach -= 0.001;
            mesh.position.push_back((centre + (reach + o[1]) * out + o[0] * normal).cast<float>());
        }
    }
    for (std::uint32_t k = 0; k < samples; ++k)
        for (std::uint32_t e = 0; e < 4; ++e) {
            const std::uint32_t n = (k + 1) % samples, f = (e + 1) % 4;
            mesh.triangles.push_back({4 * k + e, 4 * n + f, 4 * n + e});
            mesh.triangles.push_back({4 * k + e, 4 * k + f, 4 * n + f});
        }
    return mesh;
}

} // namespace hobble::demo
