#include "corrective.h"

#include "core/deform/deformer.h"
#include "core/mend/relax.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <memory>

namespace hobble::demo {

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
