#include "core/mend/relax.h"

#include "core/measure/triangle_tree.h"

#include <Eigen/Sparse>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <map>
#include <numeric>

namespace hobble {

namespace {

struct Edge {
    int to;
    double weight;
};

constexpr double kBrace = 0.25; // of a brace, beside cotangents that are around 0.5

std::vector<std::vector<Edge>> cotangents(const std::vector<Triangle>& triangles,
                                          const std::vector<Vec3>& rest,
                                          const std::vector<std::pair<int, int>>& braces) {
    std::vector<std::map<int, double>> sum(rest.size());
    for (const Triangle& t : triangles)
        for (int k = 0; k < 3; ++k) {
            const int i = int(t[k]), j = int(t[(k + 1) % 3]), o = int(t[(k + 2) % 3]);
            const Vec3d a = (rest[i] - rest[o]).cast<double>(), b = (rest[j] - rest[o]).cast<double>();
            const double w = 0.5 * std::max(a.dot(b) / std::max(a.cross(b).norm(), 1e-14), 0.05);
            sum[i][j] += w;
            sum[j][i] += w;
        }
    for (const auto& [a, b] : braces) {
        sum[a][b] += kBrace;
        sum[b][a] += kBrace;
    }
    std::vector<std::vector<Edge>> out(rest.size());
    for (std::size_t v = 0; v < rest.size(); ++v)
        for (const auto& [to, w] : sum[v])
            out[v].push_back({to, w});
    return out;
}

} // namespace

std::vector<Vec3> relaxed(const std::vector<Triangle>& triangles, const std::vector<Vec3>& rest,
                          const std::vector<std::pair<int, int>>& braces, const std::vector<Vec3>& posed,
                          const std::vector<char>& free, double size, int rounds) {
    const auto edges = cotangents(triangles, rest, braces);
    std::vector<int> number(rest.size(), -1), taking; // unknowns, and all whose rotation counts
    int unknowns = 0;
    for (std::size_t v = 0; v < rest.size(); ++v)
        if (free[v])
            number[v] = unknowns++;
    for (std::size_t v = 0; v < rest.size(); ++v)
        if (free[v] ||
            std::any_of(edges[v].begin(), edges[v].end(), [&](const Edge& e) { return free[e.to] != 0; }))
            taking.push_back(static_cast<int>(v));
    if (unknowns == 0)
        return posed;
    std::vector<Eigen::Triplet<double>> entries;
    for (std::size_t v = 0; v < rest.size(); ++v)
        if (free[v])
            for (const Edge& e : edges[v]) {
                entries.emplace_back(number[v], number[v], e.weight);
                if (free[e.to])
                    entries.emplace_back(number[v], number[e.to], -e.weight);
            }
    Eigen::SparseMatrix<double> a(unknowns, unknowns);
    a.setFromTriplets(entries.begin(), entries.end());
    const Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> solver(a);

    std::vector<Vec3d> p(rest.size());
    for (std::size_t v = 0; v < rest.size(); ++v)
        p[v] = posed[v].cast<double>();
    std::vector<Eigen::Matrix3d> turn(rest.size(), Eigen::Matrix3d::Identity());
    auto fit = [&](int v, bool even) {
        Eigen::Matrix3d s = Eigen::Matrix3d::Zero();
        for (const Edge& e : edges[v]) {
            const Vec3d before = (rest[v] - rest[e.to]).cast<double>(), now = p[v] - p[e.to];
            s += e.weight * before * now.transpose();
            if (even)
                s += 0.08 * size * size * e.weight * turn[e.to].transpose();
        }
        return closestRotation(s).transpose();
    };
    for (int v : taking)
        turn[v] = fit(v, false);
    for (int round = 0; round < rounds; ++round) {
        auto next = turn;
        for (int v : taking)
            next[v] = fit(v, true);
        turn = std::move(next);
        Eigen::MatrixXd b = Eigen::MatrixXd::Zero(unknowns, 3);
        for (std::size_t v = 0; v < rest.size(); ++v)
            if (free[v])
                for (const Edge& e : edges[v]) {
                    const Vec3d before = (rest[v] - rest[e.to]).cast<double>();
                    Vec3d sum = 0.5 * e.weight * ((turn[v] + turn[e.to]) * before);
                    if (!free[e.to])
                        sum += e.weight * p[e.to];
                    b.row(number[v]) += sum.transpose();
                }
        const Eigen::MatrixXd x = solver.solve(b);
        for (std::size_t v = 0; v < rest.size(); ++v)
            if (free[v])
                p[v] = x.row(number[v]).transpose();
    }
    std::vector<Vec3> out = posed;
    for (std::size_t v = 0; v < rest.size(); ++v)
        if (free[v])
            out[v] = p[v].cast<float>();
    return out;
}

std::vector<std::pair<int, int>> bracesThrough(const std::vector<Triangle>& triangles,
                                               const std::vector<Vec3>& rest, double longest) {
    std::vector<Vec3> normal(rest.size(), Vec3::Zero());
    for (const Triangle& t : triangles)
        for (auto v : t)
            normal[v] += (rest[t[1]] - rest[t[0]]).cross(rest[t[2]] - rest[t[0]]);
    std::vector<std::uint32_t> all(triangles.size());
    std::iota(all.begin(), all.end(), 0u);
    const TriangleTree tree = buildTree(triangles, all, rest);
    Boxes boxes;
    refit(tree, triangles, rest, boxes);
    std::vector<std::pair<int, int>> out(rest.size(), {-1, -1});
    tbb::parallel_for(std::size_t(0), rest.size(), [&](std::size_t v) {
        const Vec3 way = -normal[v].normalized();
        if (!way.allFinite())
            return;
        const RayHit hit = castRay(tree, boxes, triangles, rest, rest[v], way, 1e-4f,
                                   static_cast<float>(longest), static_cast<std::uint32_t>(v));
        if (hit.triangle == ~0u)
            return;
        const Triangle& t = triangles[hit.triangle];
        const Vec3 at = rest[v] + hit.distance * way;
        const auto nearest = *std::min_element(t.begin(), t.end(), [&](std::uint32_t a, std::uint32_t b) {
            return (rest[a] - at).squaredNorm() < (rest[b] - at).squaredNorm();
        });
        out[v] = {static_cast<int>(v), static_cast<int>(nearest)};
    });
    std::erase_if(out, [](const auto& brace) { return brace.first < 0; });
    return out;
}

} // namespace hobble
