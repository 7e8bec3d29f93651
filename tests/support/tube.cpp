#include "support/tube.h"

#include "core/deform/deformer.h"

#include <algorithm>
#include <cmath>

namespace hobble::test {

Skeleton skeletonOf(const std::vector<std::tuple<std::string, int, Vec3d>>& joints) {
    Skeleton sk;
    for (const auto& [name, parent, at] : joints) {
        Transform world = Transform::Identity();
        world.translate(at);
        sk.name.push_back(name);
        sk.parent.push_back(parent);
        sk.neutralWorld.push_back(world);
        sk.neutralLocal.push_back(parent < 0 ? world : sk.neutralWorld[parent].inverse() * world);
    }
    return sk;
}

void finish(Character& c, const std::vector<std::vector<std::pair<int, double>>>& weights) {
    Skin skin;
    for (const Transform& t : c.skeleton.neutralWorld) {
        skin.inverseBind.push_back(t.inverse());
        skin.bound.push_back(1);
    }
    c.skins = {skin};
    c.weights = {};
    for (const auto& list : weights) {
        for (const auto& [joint, weight] : list)
            if (weight > 0) {
                c.weights.joint.push_back(static_cast<std::uint16_t>(joint));
                c.weights.weight.push_back(static_cast<float>(weight));
            }
        c.weights.first.push_back(static_cast<std::uint32_t>(c.weights.joint.size()));
        c.weights.fileSum.push_back(1.f);
    }
    for (Part& p : c.parts)
        if (p.skin < 0 && p.skinned)
            p.skin = 0;
    c.neutral = c.bindPosition;
    c.colour.assign(c.neutral.size(), Vec3(0.8f, 0.8f, 0.8f));
}

Character tube(const TubeSpec& s) {
    Character c;
    c.name = "tube";
    c.hash = "tube";
    c.skeleton = skeletonOf({{s.rootName, -1, Vec3d(0, -s.length / 2, 0)}, {s.tipName, 0, Vec3d::Zero()}});
    std::vector<std::vector<std::pair<int, double>>> weights;
    auto vertex = [&](double x, double y, double z) {
        c.bindPosition.emplace_back(float(x), float(y), float(z));
        const double t = std::clamp((y + s.blendHalf) / (2 * s.blendHalf), 0.0, 1.0);
        weights.push_back({{0, 1 - t}, {1, t}});
    };
    for (int r = 0; r <= s.rings; ++r)
        for (int k = 0; k < s.sides; ++k) {
            const double a = 2 * kPi * k / s.sides;
            vertex(s.radius * std::sin(a), -s.length / 2 + s.length * r / s.rings, s.radius * std::cos(a));
        }
    auto at = [&](int r, int k) { return std::uint32_t(r * s.sides + (k % s.sides)); };
    for (int r = 0; r < s.rings; ++r)
        for (int k = 0; k < s.sides; ++k) {
            c.triangles.push_back({at(r, k), at(r, k + 1), at(r + 1, k)});
            c.triangles.push_back({at(r, k + 1), at(r + 1, k + 1), at(r + 1, k)});
        }
    if (s.capped)
        for (const int r : {0, s.rings}) {
            vertex(0, -s.length / 2 + s.length * r / s.rings, 0);
            const auto centre = std::uint32_t(c.bindPosition.size() - 1);
            for (int k = 0; k < s.sides; ++k) {
                if (r == 0)
                    c.triangles.push_back({centre, at(r, k + 1), at(r, k)});
                else
                    c.triangles.push_back({centre, at(r, k), at(r, k + 1)});
            }
        }
    Part p;
    p.name = "body";
    p.skinned = true;
    p.vertexCount = std::uint32_t(c.bindPosition.size());
    p.triangleCount = std::uint32_t(c.triangles.size());
    c.parts.push_back(p);
    finish(c, weights);
    return c;
}

Character stickFigure(const std::vector<std::tuple<std::string, int, Vec3d>>& joints) {
    Character c;
    c.name = "stick figure";
    c.skeleton = skeletonOf(joints);
    std::vector<std::vector<std::pair<int, double>>> weights;
    for (int j = 0; j < c.skeleton.size(); ++j) {
        const Vec3 at = c.skeleton.neutralWorld[j].translation().cast<float>();
        const auto first = std::uint32_t(c.bindPosition.size());
        for (const Vec3& d : {Vec3(0.01f, 0, 0), Vec3(0, 0.01f, 0), Vec3(0, 0, 0.01f)}) {
            c.bindPosition.push_back(at + d);
            weights.push_back({{j, 1.0}});
        }
        c.triangles.push_back({first, first + 1, first + 2});
    }
    Part p;
    p.name = "sticks";
    p.skinned = true;
    p.vertexCount = std::uint32_t(c.bindPosition.size());
    p.triangleCount = std::uint32_t(c.triangles.size());
    c.parts.push_back(p);
    finish(c, weights);
    return c;
}

Plan turnPlan(const Vec3d& axis, std::vector<double> degrees, int joint, bool roll) {
    Motion m;
    m.id = m.name = "turn";
    m.limb = Limb::Arms;
    m.roll = roll;
    m.turns = {{joint, axis.normalized(), 1.0}};
    m.steps = std::move(degrees);
    return {"turn", {m}};
}

Subject subjectOf(Character c) { return prepareSubject(std::make_shared<const Character>(std::move(c))); }

Character moved(const Character& c, const Transform& by) {
    Character out = c;
    for (std::size_t v = 0; v < c.neutral.size(); ++v)
        out.bindPosition[v] = out.neutral[v] = (by * c.neutral[v].cast<double>()).cast<float>();
    for (int j = 0; j < c.skeleton.size(); ++j) {
        out.skeleton.neutralWorld[j] = by * c.skeleton.neutralWorld[j];
        if (c.skeleton.parent[j] < 0)
            out.skeleton.neutralLocal[j] = out.skeleton.neutralWorld[j];
        for (Skin& s : out.skins)
            s.inverseBind[j] = out.skeleton.neutralWorld[j].inverse();
    }
    return out;
}

Character mirroredX(const Character& c) {
    Character out = c;
    const Eigen::Vector3d flip(-1, 1, 1);
    for (std::size_t v = 0; v < c.neutral.size(); ++v)
        out.bindPosition[v] = out.neutral[v] = c.neutral[v].cwiseProduct(flip.cast<float>());
    for (Triangle& t : out.triangles)
        std::swap(t[1], t[2]);
    for (int j = 0; j < c.skeleton.size(); ++j) {
        Transform& w = out.skeleton.neutralWorld[j];
        w.translation() = c.skeleton.neutralWorld[j].translation().cwiseProduct(flip);
        const int p = c.skeleton.parent[j];
        out.skeleton.neutralLocal[j] = p < 0 ? w : out.skeleton.neutralWorld[p].inverse() * w;
        out.skins[0].inverseBind[j] = w.inverse();
        std::string& name = out.skeleton.name[j];
        if (name.size() > 2 && name[name.size() - 2] == '.')
            name.back() = name.back() == 'L' ? 'R' : name.back() == 'R' ? 'L' : name.back();
    }
    return out;
}

std::vector<std::uint32_t> verticesWhere(const Subject& s, const std::function<bool(const Vec3&)>& holds) {
    std::vector<std::uint32_t> out;
    for (std::uint32_t v = 0; v < s.neutral.size(); ++v)
        if (holds(s.neutral[v]))
            out.push_back(v);
    return out;
}

} // namespace hobble::test
