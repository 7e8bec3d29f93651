#include "core/pose/joint_range.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

// Degrees let beside what is planned (flex, side, bone), each way. Ankle and wrist: American Academy of
// Orthopaedic Surgeons 1965; knee roll: Norkin and White 2016; a forearm's roll is told at the wrist.
Vec3d let(Role role) {
    switch (role) {
    case Role::Elbow:
        return {10, 10, 85};
    case Role::Wrist:
        return {10, 30, 20};
    case Role::Knee:
        return {10, 10, 35};
    case Role::Ankle:
        return {10, 30, 25};
    case Role::Toe:
        return {10, 15, 10};
    case Role::Finger:
    case Role::Thumb:
        return {20, 25, 20};
    case Role::Collarbone:
    case Role::Scapula:
        return {10, 10, 25};
    case Role::Jaw:
        return {5, 10, 5};
    default:
        return {10, 10, 15};
    }
}

// What part of the way to its limit an angle goes.
double part(const JointRange& r, const Vec3d& a, std::size_t k) {
    const double x = a[static_cast<Eigen::Index>(k)];
    return std::abs(x) / std::max(x < 0 ? -r.least[k] : r.most[k], 1e-6);
}

// Both directions of the swing are planned: the reach between them is a quarter of an ellipse. A hinge's side
// is only let: its limits stand each by itself.
bool between(const JointRange& r, const Vec3d& a) {
    return (a[0] < 0 ? r.leastMotion : r.mostMotion)[0] >= 0 &&
           (a[1] < 0 ? r.leastMotion : r.mostMotion)[1] >= 0;
}

} // namespace

std::vector<JointRange> jointRanges(const Character& c, const std::vector<JointRole>& roles,
                                    const Plan& plan) {
    std::vector<JointRange> out(c.skeleton.name.size());
    std::vector<char> framed(out.size(), 0);
    for (std::size_t i = 0; i < plan.motions.size(); ++i) {
        const Motion& m = plan.motions[i];
        if (m.span != Span::Degrees || m.keys)
            continue;
        for (const JointTurn& t : m.turns) {
            JointRange& r = out[static_cast<std::size_t>(t.joint)];
            if (!framed[static_cast<std::size_t>(t.joint)]) {
                const Transform& at = c.skeleton.neutralWorld[static_cast<std::size_t>(t.joint)];
                Vec3d bone = rotationOf(at).inverse() * boneDirection(c, roles, t.joint);
                if (bone.norm() < 0.5)
                    bone = m.roll ? t.axis : t.axis.unitOrthogonal();
                if (m.roll && bone.cross(t.axis).norm() > 0.2) // a head's "roll" turns about the neck
                    bone = t.axis;
                Vec3d flex = m.roll ? bone.unitOrthogonal() : t.axis;
                flex -= flex.dot(bone) * bone;
                if (flex.norm() < 0.2) // the plan's axis is along the bone after all
                    flex = bone.unitOrthogonal();
                flex.normalize();
                bone.normalize();
                Eigen::Matrix3d axes;
                axes << flex, bone.cross(flex), bone;
                r.frame = Quat(axes);
                r.known = true;
                framed[static_cast<std::size_t>(t.joint)] = 1;
                const Vec3d slack = let(roles[static_cast<std::size_t>(t.joint)].role);
                for (int k = 0; k < 3; ++k) {
                    r.most[static_cast<std::size_t>(k)] = slack[k];
                    r.least[static_cast<std::size_t>(k)] = -slack[k];
                }
            }
            const Vec3d axis = r.frame.inverse() * t.axis;
            Eigen::Index k;
            axis.cwiseAbs().maxCoeff(&k);
            if (std::abs(axis[k]) < 0.8)
                continue; // between two of the axes: a compound of its own
            const auto to = static_cast<std::size_t>(k);
            const double degrees = m.limit() * t.share;
            if (axis[k] > 0 && (r.mostMotion[to] < 0 || degrees > r.most[to])) {
                r.most[to] = degrees;
                r.mostMotion[to] = static_cast<int>(i);
            } else if (axis[k] < 0 && (r.leastMotion[to] < 0 || -degrees < r.least[to])) {
                r.least[to] = -degrees;
                r.leastMotion[to] = static_cast<int>(i);
            }
        }
    }
    return out;
}

Vec3d anglesIn(const JointRange& r, const Quat& turn) {
    Quat q = r.frame.inverse() * turn * r.frame;
    if (q.w() < 0)
        q.coeffs() = -q.coeffs();
    const double length = std::hypot(q.w(), q.z());
    const Quat twist = length > 1e-9 ? Quat(q.w() / length, 0, 0, q.z() / length) : Quat::Identity();
    Quat swing = q * twist.inverse();
    if (swing.w() < 0)
        swing.coeffs() = -swing.coeffs();
    const double sine = std::hypot(swing.x(), swing.y());
    const double angle = 2 * std::atan2(sine, swing.w());
    const Vec3d direction = sine > 1e-12 ? Vec3d(swing.x() / sine, swing.y() / sine, 0) : Vec3d::Zero();
    return Vec3d(degrees(angle) * direction.x(), degrees(angle) * direction.y(),
                 degrees(2 * std::atan2(twist.z(), twist.w())));
}

Quat turnOf(const JointRange& r, const Vec3d& angles) {
    const Vec3d swing(angles[0], angles[1], 0);
    const double length = swing.norm();
    Quat q(Eigen::AngleAxisd(radians(angles[2]), Vec3d::UnitZ()));
    if (length > 1e-12)
        q = Quat(Eigen::AngleAxisd(radians(length), swing / length)) * q;
    return r.frame * q * r.frame.inverse();
}

double beyond(const JointRange& r, const Quat& turn) {
    return r.known ? degrees(turn.angularDistance(within(r, turn))) : 0;
}

Quat within(const JointRange& r, const Quat& turn) {
    if (!r.known)
        return turn;
    Vec3d a = anglesIn(r, turn);
    const Vec3d asked = a;
    if (between(r, a)) {
        const double out = std::hypot(part(r, a, 0), part(r, a, 1));
        if (out > 1)
            a.head<2>() /= out;
    } else {
        for (int k = 0; k < 2; ++k)
            a[k] =
                std::clamp(a[k], r.least[static_cast<std::size_t>(k)], r.most[static_cast<std::size_t>(k)]);
    }
    a[2] = std::clamp(a[2], r.least[2], r.most[2]);
    return a == asked ? turn : turnOf(r, a);
}

double shareOf(const JointRange& r, const Quat& turn) {
    if (!r.known)
        return 0;
    const Vec3d a = anglesIn(r, turn);
    const double swing =
        between(r, a) ? std::hypot(part(r, a, 0), part(r, a, 1)) : std::max(part(r, a, 0), part(r, a, 1));
    return std::max(swing, part(r, a, 2));
}

} // namespace hobble
