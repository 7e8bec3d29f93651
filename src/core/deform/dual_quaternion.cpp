#include "core/deform/deformer.h"

namespace hobble {

namespace {

struct DualQuat {
    Eigen::Vector4f real = Eigen::Vector4f::Zero(); // x, y, z, w
    Eigen::Vector4f dual = Eigen::Vector4f::Zero();
};

// The motion of a joint from neutral to posed. A scaled joint turns about its own place and keeps its size.
DualQuat motionOf(const Transform& neutral, const Transform& posed) {
    const Transform relative = posed * neutral.inverse();
    const Quat q = rotationOf(relative);
    const Vec3d t = posed.translation() - q * neutral.translation();
    const Quat d = Quat(0, t.x(), t.y(), t.z()) * q;
    DualQuat out;
    out.real = q.coeffs().cast<float>();
    out.dual = 0.5f * d.coeffs().cast<float>();
    return out;
}

std::vector<DualQuat> paletteOf(const Character& c, const std::vector<Transform>& world) {
    std::vector<DualQuat> out(world.size());
    for (std::size_t j = 0; j < world.size(); ++j)
        out[j] = motionOf(c.skeleton.neutralWorld[j], world[j]);
    return out;
}

Vec3 moved(const SkinWeights& weights, const std::vector<DualQuat>& palette, std::size_t v, const Vec3& p) {
    const std::uint32_t first = weights.first[v], last = weights.first[v + 1];
    if (first == last)
        return p;
    // Blend on the hemisphere of the heaviest influence, so that antipodal quaternions do not cancel.
    const DualQuat& pivot = palette[weights.joint[first]];
    DualQuat sum;
    for (std::uint32_t i = first; i < last; ++i) {
        const DualQuat& q = palette[weights.joint[i]];
        const float w = q.real.dot(pivot.real) < 0 ? -weights.weight[i] : weights.weight[i];
        sum.real += w * q.real;
        sum.dual += w * q.dual;
    }
    const float length = sum.real.norm();
    const Eigen::Vector4f real = sum.real / length, dual = sum.dual / length;
    const Vec3 r = real.head<3>(), d = dual.head<3>();
    return p + 2.f * r.cross(r.cross(p) + real.w() * p) + 2.f * (real.w() * d - dual.w() * r + r.cross(d));
}

} // namespace

void deformDualQuaternion(const Character& c, const std::vector<Transform>& world,
                          const std::vector<Vec3>& neutral, std::vector<Vec3>& out) {
    out.resize(neutral.size());
    const auto palette = paletteOf(c, world);
    for (std::size_t v = 0; v < neutral.size(); ++v)
        out[v] = moved(c.weights, palette, v, neutral[v]);
}

void mixDualQuaternion(const Character& c, const std::vector<Transform>& world,
                       const std::vector<Vec3>& neutral, const std::vector<float>& share,
                       std::vector<Vec3>& out) {
    const auto palette = paletteOf(c, world);
    for (std::size_t v = 0; v < neutral.size(); ++v)
        if (share[v] > 0)
            out[v] += share[v] * (moved(c.weights, palette, v, neutral[v]) - out[v]);
}

} // namespace hobble
