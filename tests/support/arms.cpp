#include "support/arms.h"

#include <algorithm>

namespace hobble::test {

Influences plainArm(const ArmVertex& v, double half) {
    const double t = std::clamp((v.at.y() + half) / (2 * half), 0.0, 1.0);
    return {{v.upper, 1 - t}, {v.fore, t}};
}

Character arms(const ArmsSpec& spec) {
    const Character one = tube({.sides = spec.sides, .rings = spec.rings});
    const Vec3d aside(1, 0, 0), mirrored(-1, 1, 1);
    std::vector<std::tuple<std::string, int, Vec3d>> joints{{"chest", -1, Vec3d(0, -0.8, 0)}};
    for (const bool left : {true, false}) {
        const int first = static_cast<int>(joints.size());
        const auto place = [&](const Vec3d& at) {
            return left ? Vec3d(at + aside) : Vec3d((at + aside).cwiseProduct(mirrored));
        };
        const std::string side = left ? ".L" : ".R";
        joints.push_back({"upper_arm" + side, 0, place(Vec3d(0, -0.8, 0))});
        joints.push_back({"forearm" + side, first, place(left ? spec.leftElbowOff : Vec3d(0, 0, 0))});
        joints.push_back({"hand" + side, first + 1, place(Vec3d(0, 0.6, 0))});
    }
    Character c;
    c.name = "arms";
    c.hash = "arms";
    c.skeleton = skeletonOf(joints);
    std::vector<Influences> weights;
    for (const bool left : {true, false}) {
        const auto first = static_cast<std::uint32_t>(c.bindPosition.size());
        for (const Vec3& p : one.neutral) {
            const Vec3d at = spec.place(p.cast<double>());
            c.bindPosition.push_back(
                (left ? Vec3d(at + aside) : Vec3d((at + aside).cwiseProduct(mirrored))).cast<float>());
            weights.push_back(spec.weights({left, at, left ? 1 : 4, left ? 2 : 5, left ? 3 : 6}));
        }
        for (Triangle t : one.triangles) {
            for (std::uint32_t& v : t)
                v += first;
            if (!left)
                std::swap(t[1], t[2]);
            c.triangles.push_back(t);
        }
    }
    Part p;
    p.name = "body";
    p.skinned = true;
    p.vertexCount = static_cast<std::uint32_t>(c.bindPosition.size());
    p.triangleCount = static_cast<std::uint32_t>(c.triangles.size());
    c.parts.push_back(p);
    finish(c, weights);
    return c;
}

} // namespace hobble::test
