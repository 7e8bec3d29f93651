#include "corrective.h"

#include "core/deform/deformer.h"

#include <Eigen/Sparse>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <memory>

namespace hobble::demo {

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
    std::vector<std::pair<int, int>> out(rest.size(), {-1, -1});
    tbb::parallel_for(std::size_t(0), rest.size(), [&](std::size_t v) {
        const Vec3 way = -normal[v].normalized();
        float nearest = static_cast<float>(longest);
        for (const Triangle& t : triangles) { // Möller and Trumbore 1997
            const Vec3 e1 = rest[t[1]] - rest[t[0]], e2 = rest[t[2]] - rest[t[0]], p = way.cross(e2);
            const float det = e1.dot(p);
            if (std::abs(det) < 1e-12f || t[0] == v || t[1] == v || t[2] == v)
                continue;
            const Vec3 s = rest[v] - rest[t[0]], q = s.cross(e1);
            const float a = s.dot(p) / det, b = way.dot(q) / det, d = e2.dot(q) / det;
            if (a < 0 || b < 0 || a + b > 1 || d < 1e-4f || d >= nearest)
                continue;
            nearest = d;
            out[v] = {static_cast<int>(v), static_cast<int>(a > 0.5f ? t[1] : b > 0.5f ? t[2] : t[0])};
        }
    });
    std::erase_if(out, [](const auto& brace) { return brace.first < 0; });
    return out;
}

namespace {

// The linear part with which skinning moves each vertex away from its bind position.
std::vector<Eigen::Matrix3d> blends(const Character& c, const std::vector<Transform>& world) {
    std::vector<Eigen::Matrix3d> out(c.vertexCount(), Eigen::Matrix3d::Identity());
    for (std::size_t v = 0; v < out.size(); ++v) {
        Eigen::Matrix3d sum = Eigen::Matrix3d::Zero();
        for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i) {
            const int j = c.weights.joint[i];
            sum += c.weights.weight[i] * (world[j] * c.skins[0].inverseBind[j]).linear();
        }
        out[v] = sum;
    }
    return out;
}

// Where skin gives when the motion's joints turn: what part of a vertex's weight follows them.
std::vector<double> following(const Character& c, const Motion& motion) {
    std::vector<double> share(c.skeleton.name.size(), 0.0);
    for (const JointTurn& t : motion.turns) {
        const auto below = c.skeleton.subtree(t.joint);
        for (std::size_t j = 0; j < below.size(); ++j)
            if (below[j])
                share[j] += t.share;
        for (const Driver& d : c.drivers)
            if (d.source == t.joint && d.output == Driver::Output::Turn && !below[d.joint] &&
                std::abs(d.about.dot(t.axis)) > 0.9)
                share[d.joint] += t.share * std::abs(driverSlope(d));
    }
    std::vector<double> out(c.vertexCount(), 0.0);
    for (std::size_t v = 0; v < out.size(); ++v)
        for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
            out[v] += c.weights.weight[i] * share[c.weights.joint[i]];
    return out;
}

struct Shape {
    std::string name;
    double degrees = 0;
    std::vector<std::pair<int, ShapeTarget>> byPart;
};

struct MotionShapes {
    Motion motion;
    std::vector<Shape> shapes;
};

} // namespace

void addCorrectives(Character& c, int bodyPart, const CorrectiveNeed& need) {
    const Part& body = c.parts[bodyPart];
    const std::vector<Vec3> rest(c.neutral.begin() + body.firstVertex,
                                 c.neutral.begin() + body.firstVertex + body.vertexCount);
    std::vector<Triangle> triangles;
    for (std::uint32_t t = body.firstTriangle; t < body.firstTriangle + body.triangleCount; ++t) {
        Triangle f = c.triangles[t];
        for (auto& v : f)
            v -= body.firstVertex;
        triangles.push_back(f);
    }
    const auto braces = bracesThrough(triangles, rest, 0.3);
    // Other parts move with the nearest body vertex.
    std::map<int, std::vector<std::uint32_t>> nearest;
    for (std::size_t p = 0; p < c.parts.size(); ++p) {
        if (static_cast<int>(p) == bodyPart || !need.strength.count(c.parts[p].name))
            continue;
        for (std::uint32_t v = 0; v < c.parts[p].vertexCount; ++v) {
            std::uint32_t best = 0;
            for (std::uint32_t b = 1; b < body.vertexCount; ++b)
                if ((rest[b] - c.neutral[c.parts[p].firstVertex + v]).squaredNorm() <
                    (rest[best] - c.neutral[c.parts[p].firstVertex + v]).squaredNorm())
                    best = b;
            nearest[static_cast<int>(p)].push_back(best);
        }
    }
    const Plan plan = defaultPlan(c, guessRoles(c));
    std::vector<MotionShapes> work;
    for (const Motion& m : plan.motions)
        if (!m.roll && std::find(need.roles.begin(), need.roles.end(), m.role) != need.roles.end())
            work.push_back({m, {}});
    const auto shapesOf = [&](MotionShapes& w) {
        const Motion& m = w.motion;
        const int keys = m.limit() > 80 ? 3 : m.limit() > 35 ? 2 : 1;
        const auto share = following(c, m);
        std::vector<char> free(body.vertexCount, 0);
        for (std::uint32_t v = 0; v < body.vertexCount; ++v) {
            const double s = std::clamp(share[body.firstVertex + v], 0.0, 1.0);
            free[v] = 4 * s * (1 - s) > 0.01;
        }
        std::vector<Vec3> before; // starting from the smaller angle's answer keeps the larger from folding
        std::vector<Eigen::Matrix3d> beforeBlend;
        for (int k = 1; k <= keys; ++k) {
            Shape shape;
            shape.degrees = m.limit() * k / keys;
            shape.name = m.id + " " + std::to_string(int(std::lround(shape.degrees)));
            const Driven driven = drive(c, poseAt(c.skeleton, m, shape.degrees));
            std::vector<Vec3> posed;
            deform(c, {driven.world, {}}, Skinning::Linear, posed); // before any shape
            const auto blend = blends(c, driven.world);
            std::vector<Vec3> start(posed.begin() + body.firstVertex,
                                    posed.begin() + body.firstVertex + body.vertexCount);
            const std::vector<Vec3> end = relaxed(triangles, rest, braces, start, free, 0.05, 40);
            std::vector<Vec3> moved(body.vertexCount);
            ShapeTarget target{shape.name, {}, {}};
            auto add = [&](ShapeTarget& t, std::uint32_t vertex, std::uint32_t global, const Vec3& by) {
                // Taken back through the skinning; where that nearly collapses, no more than it can carry.
                const auto [u, v, s] = singularValues(blend[global]);
                const Vec3 delta =
                    (v * s.cwiseMax(0.45).cwiseInverse().asDiagonal() * u.transpose() * by.cast<double>())
                        .cast<float>();
                if (delta.norm() > 4e-4f) {
                    t.vertex.push_back(vertex);
                    t.delta.push_back(delta);
                }
            };
            for (std::uint32_t v = 0; v < body.vertexCount; ++v)
                if (free[v]) {
                    moved[v] = end[v] - start[v];
                    add(target, v, body.firstVertex + v, moved[v]);
                } else {
                    moved[v] = Vec3::Zero();
                }
            if (!target.vertex.empty())
                shape.byPart.push_back({bodyPart, std::move(target)});
            for (const auto& [part, from] : nearest) {
                const auto strength = static_cast<float>(need.strength.at(c.parts[part].name));
                ShapeTarget carried{shape.name, {}, {}};
                for (std::uint32_t v = 0; v < c.parts[part].vertexCount; ++v)
                    add(carried, v, c.parts[part].firstVertex + v, strength * moved[from[v]]);
                if (!carried.vertex.empty())
                    shape.byPart.push_back({part, std::move(carried)});
            }
            w.shapes.push_back(std::move(shape));
        }
    };
    tbb::parallel_for(std::size_t(0), work.size(), [&](std::size_t i) { shapesOf(work[i]); });

    for (const MotionShapes& w : work)
        for (std::size_t k = 0; k < w.shapes.size(); ++k) {
            const JointTurn& turn = w.motion.turns.front();
            const double before = k ? w.shapes[k - 1].degrees : 0, here = w.shapes[k].degrees;
            for (const auto& [part, target] : w.shapes[k].byPart) {
                Driver d;
                d.name = target.name + " on " + c.parts[part].name;
                d.source = turn.joint;
                d.about = turn.axis;
                d.keys = {{before * turn.share, 0}, {here * turn.share, 1}};
                if (k + 1 < w.shapes.size())
                    d.keys.push_back({w.shapes[k + 1].degrees * turn.share, 0});
                d.output = Driver::Output::Target;
                d.part = part;
                d.target = static_cast<int>(c.parts[part].targets.size());
                c.parts[part].targets.push_back(target);
                c.parts[part].targetWeights.push_back(0);
                c.drivers.push_back(std::move(d));
            }
        }
}

} // namespace hobble::demo
