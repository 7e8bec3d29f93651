#include "face.h"

#include <cmath>

namespace hobble::demo {

std::vector<Bone> bonesOf(const Rig& r, const std::vector<std::pair<std::string, std::string>>& pairs) {
    std::vector<Bone> out;
    for (const auto& [from, to] : pairs)
        out.push_back({r.index.at(from), r.at(from), r.at(to)});
    return out;
}

void shareLids(std::vector<Weights>& weights, const Mesh& mesh, const std::vector<int>& label,
               const HeadPlan& plan, const Rig& r) {
    const Eigen::Matrix3d frame = eyeFrame(plan);
    const Vec3d eye = plan.place * plan.eye.centre;
    const double edge = 0.5 * (plan.eye.up + plan.eye.down);
    for (std::size_t v = 0; v < weights.size(); ++v) {
        if (label[v] != LidLabel)
            continue;
        Vec3d p = mesh.position[v].cast<double>();
        const std::string side = p.x() < 0 ? ".R" : ".L";
        p.x() = std::abs(p.x());
        const Vec3d d = frame.transpose() * (p - eye);
        if (d.z() <= 0)
            continue;
        const double away = degrees(std::atan2(std::hypot(d.x() * edge / plan.eye.yaw, d.y()), d.z()));
        // The nearer to a corner, the less there is to close.
        const double pitch = std::atan2(std::abs(d.y()) / edge, std::abs(d.x()) / plan.eye.yaw);
        const double share = soft(edge + 16, -26, away) * std::pow(std::sin(pitch), 0.8);
        hand(weights[v], r.index.at("head"), r.index.at((d.y() > 0 ? "lid_upper" : "lid_lower") + side),
             share);
    }
}

void shareEars(std::vector<Weights>& weights, const Mesh& mesh, const std::vector<int>& label, const Rig& r,
               double length) {
    const Vec3d root = r.at("ear.L"), way = (r.at("ear_end.L") - root).normalized();
    for (std::size_t v = 0; v < weights.size(); ++v) {
        if (label[v] != EarLabel)
            continue;
        Vec3d p = mesh.position[v].cast<double>();
        const std::string side = p.x() < 0 ? ".R" : ".L";
        p.x() = std::abs(p.x());
        hand(weights[v], r.index.at("head"), r.index.at("ear" + side),
             soft(0.35, 0.9, (p - root).dot(way) / length));
    }
}

std::vector<Solid> teethAlong(const Vec3d& middle, double half, double back, double drop, double size) {
    std::vector<Solid> out;
    for (int k = -5; k <= 5; ++k) {
        const double a = k / 5.0 * 1.35, away = 1 - std::cos(a);
        out.push_back(ellipsoid(middle + Vec3d(half * std::sin(a), drop * away, -back * away),
                                {size, std::abs(k) == 3 ? 1.9 * size : 1.3 * size, size}, 0, 0.001));
    }
    return out;
}

int addTongue(Assembly& assembly, const Rig& r, double radius, double wide, const Vec3& colour) {
    Flesh f(r);
    f.cone("tongue_1", r.at("tongue_1"), radius, r.at("tongue_2"), 0.95 * radius, 0.004);
    f.cone("tongue_2", r.at("tongue_2"), 0.95 * radius, r.at("tongue_end"), 0.72 * radius, 0.004);
    Mesh tongue = polygonize(f.solids, radius / 3);
    std::vector<Home> home;
    for (Vec3& p : tongue.position) {
        home.push_back(
            nearestBone({{r.index.at("jaw"), r.at("tongue_1") - Vec3d(0, 0, 2 * radius), r.at("tongue_1")},
                         {r.index.at("tongue_1"), r.at("tongue_1"), r.at("tongue_2")},
                         {r.index.at("tongue_2"), r.at("tongue_2"), r.at("tongue_end")}},
                        p.cast<double>()));
        p.x() *= static_cast<float>(wide);
    }
    return assembly.part("tongue", tongue, heatWeights(tongue, home, 0.6),
                         std::vector<Vec3>(tongue.position.size(), colour));
}

Driver follow(const Character& c, const Rig& r, const std::string& name, const std::string& source,
              const std::string& joint, const Vec3d& about, std::vector<DriverKey> keys) {
    Driver d;
    d.name = name;
    d.source = r.index.at(source);
    d.joint = r.index.at(joint);
    d.about = about;
    d.along = rotationOf(c.skeleton.neutralWorld[d.joint]).inverse() *
              (rotationOf(c.skeleton.neutralWorld[d.source]) * about);
    d.keys = std::move(keys);
    return d;
}

} // namespace hobble::demo
