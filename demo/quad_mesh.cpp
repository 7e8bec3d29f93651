#include "quad_mesh.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <map>
#include <set>
#include <unordered_map>

namespace hobble::demo {

Ring QuadMesh::add(const std::vector<Vec3d>& points, bool hold) {
    Ring ring;
    for (const Vec3d& p : points) {
        ring.push_back(static_cast<int>(at.size()));
        at.push_back(p);
        held.push_back(hold);
    }
    return ring;
}

std::vector<int> QuadMesh::stitch(const Ring& from, const Ring& to, int limb) {
    std::vector<int> row;
    for (std::size_t i = 0, n = from.size(); i < n; ++i) {
        row.push_back(static_cast<int>(quads.size()));
        quads.push_back({from[i], from[(i + 1) % n], to[(i + 1) % n], to[i]});
        label.push_back(limb);
    }
    return row;
}

Rows QuadMesh::close(const Ring& ring, int a, int b, int limb, bool hold) {
    // Ring from corner (0,0) along a to (a,0), along b to (a,b), back along a to (0,b), down to (0,0).
    std::vector<std::vector<int>> grid(a + 1, std::vector<int>(b + 1, -1));
    int k = 0;
    for (int i = 0; i < a; ++i)
        grid[i][0] = ring[k++];
    for (int j = 0; j < b; ++j)
        grid[a][j] = ring[k++];
    for (int i = a; i > 0; --i)
        grid[i][b] = ring[k++];
    for (int j = b; j > 0; --j)
        grid[0][j] = ring[k++];
    auto p = [&](int i, int j) { return at[grid[i][j]]; };
    for (int i = 1; i < a; ++i) // a surface patch over its four sides (Coons 1967)
        for (int j = 1; j < b; ++j) {
            const double u = double(i) / a, v = double(j) / b;
            const Vec3d sides = (1 - v) * p(i, 0) + v * p(i, b) + (1 - u) * p(0, j) + u * p(a, j);
            const Vec3d corners =
                (1 - u) * (1 - v) * p(0, 0) + u * (1 - v) * p(a, 0) + u * v * p(a, b) + (1 - u) * v * p(0, b);
            grid[i][j] = add({sides - corners}, hold)[0];
        }
    Rows rows(b);
    for (int j = 0; j < b; ++j)
        for (int i = 0; i < a; ++i) {
            rows[j].push_back(static_cast<int>(quads.size()));
            quads.push_back({grid[i][j], grid[i + 1][j], grid[i + 1][j + 1], grid[i][j + 1]});
            label.push_back(limb);
        }
    return rows;
}

Ring QuadMesh::open(const std::vector<int>& patch) {
    std::map<int, int> next;
    std::set<std::pair<int, int>> edges;
    for (int q : patch) {
        for (int k = 0; k < 4; ++k)
            edges.insert({quads[q][k], quads[q][(k + 1) % 4]});
        label[q] = -1;
    }
    for (const auto& [a, b] : edges)
        if (!edges.count({b, a}))
            next[a] = b;
    Ring ring{next.begin()->first};
    while (next.at(ring.back()) != ring.front())
        ring.push_back(next.at(ring.back()));
    return ring;
}

Vec3d QuadMesh::centre(const Ring& ring) const {
    Vec3d sum = Vec3d::Zero();
    for (int v : ring)
        sum += at[v];
    return sum / static_cast<double>(ring.size());
}

Rows QuadMesh::bridge(const Ring& from, const Ring& other, int between, int limb) {
    Ring to(other.rbegin(), other.rend());
    std::size_t best = 0;
    double least = INFINITY;
    for (std::size_t shift = 0; shift < to.size(); ++shift) {
        double sum = 0;
        for (std::size_t i = 0; i < to.size(); ++i)
            sum += (at[from[i]] - at[to[(i + shift) % to.size()]]).squaredNorm();
        if (sum < least - 1e-12) {
            least = sum;
            best = shift;
        }
    }
    std::rotate(to.begin(), to.begin() + static_cast<std::ptrdiff_t>(best), to.end());
    Rows rows;
    Ring last = from;
    for (int k = 1; k <= between; ++k) {
        const double t = double(k) / (between + 1);
        std::vector<Vec3d> points;
        for (std::size_t i = 0; i < to.size(); ++i)
            points.push_back((1 - t) * at[from[i]] + t * at[to[i]]);
        Ring ring = add(points);
        rows.push_back(stitch(last, ring, limb));
        last = ring;
    }
    rows.push_back(stitch(last, to, limb));
    return rows;
}

std::vector<int> patchOf(const Rows& tube, int r, int rows, int c, int columns) {
    std::vector<int> out;
    for (int i = r; i < r + rows; ++i)
        for (int k = 0; k < columns; ++k) {
            const int n = static_cast<int>(tube[i].size());
            out.push_back(tube[i][((c + k) % n + n) % n]);
        }
    return out;
}

std::vector<Vec3d> ringPoints(const Station& s, const Vec3d& x, const Vec3d& y, int count, double firstAngle,
                              const std::vector<Solid>* flesh) {
    std::vector<Vec3d> out;
    for (int i = 0; i < count; ++i) {
        const double a = firstAngle + 2 * kPi * i / count;
        const Vec3d reach = s.rx * std::cos(a) * x + s.ry * std::sin(a) * y;
        double t = 1;
        if (flesh) // outwards until the skin is met
            for (t = 0.1; t < 1 && field(*flesh, s.centre + t * reach) < 0;)
                t += 0.02;
        Vec3d p = s.centre + t * reach;
        p.x() = std::max(p.x(), s.leastX);
        out.push_back(p);
    }
    return out;
}

Drawn drawOut(QuadMesh& mesh, const Ring& border, const std::vector<Station>& stations, const Vec3d& up,
              int limb, const std::vector<Solid>* flesh) {
    Drawn out;
    Ring last = border;
    Vec3d y = up;
    const int n = static_cast<int>(border.size());
    double first = 0;
    for (std::size_t k = 0; k < stations.size(); ++k) {
        const Vec3d before = k ? stations[k - 1].centre : mesh.centre(border);
        const Vec3d after = k + 1 < stations.size() ? stations[k + 1].centre : stations[k].centre;
        const Vec3d along = (after - before).normalized();
        y = (y - y.dot(along) * along).normalized();
        const Vec3d x = y.cross(along);
        if (k == 0) { // start where the border's own vertices lie
            std::complex<double> sum = 0;
            const Vec3d middle = mesh.centre(border);
            for (int i = 0; i < n; ++i) {
                const Vec3d d = mesh.at[border[i]] - middle;
                sum += std::polar(1.0, std::atan2(d.dot(y), d.dot(x)) - 2 * kPi * i / n);
            }
            first = std::arg(sum);
        }
        const Ring ring = mesh.add(ringPoints(stations[k], x, y, n, first, flesh), flesh == nullptr);
        out.rows.push_back(mesh.stitch(last, ring, limb));
        out.rings.push_back(ring);
        last = ring;
    }
    return out;
}

QuadMesh kept(const QuadMesh& mesh) {
    QuadMesh out;
    std::vector<int> copy(mesh.at.size(), -1);
    for (std::size_t q = 0; q < mesh.quads.size(); ++q) {
        if (mesh.label[q] < 0)
            continue;
        Quad f = mesh.quads[q];
        for (int& v : f) {
            if (copy[v] < 0)
                copy[v] = out.add({mesh.at[v]}, mesh.held[v])[0];
            v = copy[v];
        }
        out.quads.push_back(f);
        out.label.push_back(mesh.label[q]);
    }
    return out;
}

QuadMesh mirrored(const QuadMesh& half) {
    constexpr double middle = 1e-6;
    QuadMesh out;
    std::vector<std::array<int, 2>> copy(half.at.size(), {-1, -1});
    auto vertex = [&](int v, int side) {
        if (copy[v][side] < 0) {
            Vec3d p = half.at[v];
            const bool on = std::abs(p.x()) < middle; // on the plane itself: both halves share it
            p.x() = on ? 0 : side ? -p.x() : p.x();
            copy[v][side] = out.add({p}, half.held[v])[0];
            if (on)
                copy[v][1 - side] = copy[v][side];
        }
        return copy[v][side];
    };
    for (int side = 0; side < 2; ++side)
        for (std::size_t q = 0; q < half.quads.size(); ++q) {
            if (half.label[q] < 0)
                continue;
            Quad f = half.quads[q];
            bool left = true;
            for (int v : f)
                left = left && half.at[v].x() > -middle;
            if (!left)
                continue;
            for (int& v : f)
                v = vertex(v, side);
            if (side)
                std::reverse(f.begin(), f.end());
            out.quads.push_back(f);
            out.label.push_back(half.label[q]);
        }
    return out;
}

QuadMesh subdivided(const QuadMesh& cage) {
    QuadMesh out;
    const std::size_t n = cage.at.size();
    struct Edge {
        int a, b, point = -1, faces = 0;
        Vec3d faceSum = Vec3d::Zero();
    };
    std::map<std::pair<int, int>, Edge> edges;
    std::vector<int> facePoint;
    std::vector<Vec3d> faceSum(n, Vec3d::Zero()), edgeSum(n, Vec3d::Zero()), borderSum(n, Vec3d::Zero());
    std::vector<int> faces(n, 0), degree(n, 0), border(n, 0);
    out.add(cage.at);
    for (std::size_t v = 0; v < n; ++v)
        out.held[v] = cage.held[v];
    for (const Quad& q : cage.quads) {
        Vec3d sum = Vec3d::Zero();
        bool hold = false;
        for (int v : q) {
            sum += cage.at[v] / 4;
            hold = hold || cage.held[v];
        }
        facePoint.push_back(out.add({sum}, hold)[0]);
        for (int k = 0; k < 4; ++k) {
            const int a = q[k], b = q[(k + 1) % 4];
            faceSum[a] += sum;
            ++faces[a];
            Edge& e = edges.try_emplace(std::minmax(a, b), Edge{a, b}).first->second;
            e.faceSum += sum;
            ++e.faces;
        }
    }
    for (auto& [key, e] : edges) {
        const Vec3d middle = (cage.at[e.a] + cage.at[e.b]) / 2;
        e.point = out.add({e.faces == 2 ? Vec3d(middle / 2 + e.faceSum / 4) : middle},
                          cage.held[e.a] || cage.held[e.b])[0];
        for (int v : {e.a, e.b}) {
            edgeSum[v] += middle;
            ++degree[v];
            if (e.faces == 1) {
                borderSum[v] += middle;
                ++border[v];
            }
        }
    }
    for (std::size_t v = 0; v < n; ++v) {
        if (!faces[v])
            continue;
        if (border[v] == 2) {
            out.at[v] = cage.at[v] / 2 + borderSum[v] / 4;
        } else {
            const double k = degree[v];
            out.at[v] = faceSum[v] / (faces[v] * k) + 2 * edgeSum[v] / (k * k) + (k - 3) / k * cage.at[v];
        }
    }
    for (std::size_t f = 0; f < cage.quads.size(); ++f)
        for (int k = 0; k < 4; ++k) {
            const Quad& q = cage.quads[f];
            const int before = edges.at(std::minmax(q[(k + 3) % 4], q[k])).point,
                      after = edges.at(std::minmax(q[k], q[(k + 1) % 4])).point;
            out.quads.push_back({q[k], after, facePoint[f], before});
            out.label.push_back(cage.label[f]);
        }
    return out;
}

void settle(QuadMesh& mesh, const std::vector<Solid>& flesh, int passes) {
    std::vector<std::set<int>> around(mesh.at.size());
    for (const Quad& q : mesh.quads)
        for (int k = 0; k < 4; ++k) {
            around[q[k]].insert(q[(k + 1) % 4]);
            around[q[(k + 1) % 4]].insert(q[k]);
        }
    for (int pass = 0; pass < passes; ++pass) {
        std::vector<Vec3d> next = mesh.at;
        for (std::size_t v = 0; v < next.size(); ++v) {
            if (mesh.held[v] || around[v].empty())
                continue;
            Vec3d mean = Vec3d::Zero();
            for (int o : around[v])
                mean += mesh.at[o] / double(around[v].size());
            const bool middle = mesh.at[v].x() == 0;
            next[v] = pulled(flesh, mesh.at[v] + 0.5 * (mean - mesh.at[v]), 0.01);
            if (middle)
                next[v].x() = 0;
        }
        mesh.at = std::move(next);
    }
}

std::vector<int> mirrorPairs(std::vector<Vec3>& at, bool even) {
    constexpr float cell = 2e-4f;
    auto key = [](const Vec3& p) {
        return std::array<int, 3>{int(std::lround(p.x() / cell)), int(std::lround(p.y() / cell)),
                                  int(std::lround(p.z() / cell))};
    };
    std::map<std::array<int, 3>, std::vector<int>> grid;
    for (std::size_t v = 0; v < at.size(); ++v)
        grid[key(at[v])].push_back(static_cast<int>(v));
    std::vector<int> pair(at.size(), -1);
    for (std::size_t v = 0; v < at.size(); ++v) {
        const Vec3 image(-at[v].x(), at[v].y(), at[v].z());
        const auto k = key(image);
        float least = cell;
        for (int dx = -1; dx <= 1; ++dx)
            for (int dy = -1; dy <= 1; ++dy)
                for (int dz = -1; dz <= 1; ++dz)
                    if (auto it = grid.find({k[0] + dx, k[1] + dy, k[2] + dz}); it != grid.end())
                        for (int o : it->second)
                            if ((at[o] - image).norm() < least) {
                                least = (at[o] - image).norm();
                                pair[v] = o;
                            }
    }
    for (std::size_t v = 0; even && v < at.size(); ++v) {
        if (pair[v] == static_cast<int>(v))
            at[v].x() = 0;
        else if (pair[v] >= 0 && at[v].x() < 0)
            at[v] = Vec3(-at[pair[v]].x(), at[pair[v]].y(), at[pair[v]].z());
    }
    return pair;
}

Mesh triangulated(const QuadMesh& mesh) {
    Mesh out;
    for (const Vec3d& p : mesh.at)
        out.position.push_back(p.cast<float>());
    for (const Quad& q : mesh.quads) {
        const auto& p = mesh.at;
        // The margin keeps both sides of an even body cut alike where the diagonals are equal.
        const bool first = (p[q[0]] - p[q[2]]).norm() <= (p[q[1]] - p[q[3]]).norm() * 1.0001;
        const auto v = [&](int k) { return static_cast<std::uint32_t>(q[k]); };
        if (first) {
            out.triangles.push_back({v(0), v(1), v(2)});
            out.triangles.push_back({v(0), v(2), v(3)});
        } else {
            out.triangles.push_back({v(0), v(1), v(3)});
            out.triangles.push_back({v(1), v(2), v(3)});
        }
    }
    return out;
}

std::vector<int> labels(const QuadMesh& mesh) {
    std::vector<int> out(mesh.at.size(), 1 << 20);
    for (std::size_t q = 0; q < mesh.quads.size(); ++q)
        for (int v : mesh.quads[q])
            out[v] = std::min(out[v], mesh.label[q]);
    return out;
}

} // namespace hobble::demo
