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

} // namespace

void deformDualQuaternion(const Character& c, const std::vector<Transform>& world,
                          const std::vector<Vec3>& neutral, std::vector<Vec3>& out) {
    out.resize(neutral.size());
    std::vector<DualQuat> palette(world.size());
    for (std::size_t j = 0; j < world.size(); ++j)
        palette[j] = motionOf(c.skeleton.neutralWorld[j], world[j]);
    for (std::size_t v = 0; v < neutral.size(); ++v) {
        const std::uint32_t first = c.weights.first[v], last = c.weights.first[v + 1];
        if (first == last) {
            out[v] = neutral[v];
            continue;
        }
        // Blend on the hemisphere of the heaviest influence, so that antipodal quaternions do not cancel.
        const DualQuat& pivot = palette[c.weights.joint[first]];
        DualQuat sum;
        for (std::uint32_t i = first; i < last; ++i) {
            const DualQuat& q = palette[c.weights.joint[i]];
            const float w = q.real.dot(pivot.real) < 0 ? -c.weights.weight[i] : c.weights.weight[i];
            sum.real += w * q.real;
            sum.dual += w * q.dual;
        }
        const float length = sum.real.norm();
        const Eigen::Vector4f real = sum.real / length, dual = sum.dual / length;
        const Vec3 r = real.head<3>(), d = dual.head<3>(), p = neutral[v];
        out[v] =
            p + 2.f * r.cross(r.cross(p) + real.w() * p) + 2.f * (real.w() * d - dual.w() * r + r.cross(d));
    }
}

} // namespace hobble
