#include "core/pose/role_pose.h"

namespace hobble {

namespace {

// A reflection through the body's middle: an axis of rotation is an axial vector.
Quat reflected(const Quat& q) { return Quat(q.w(), q.x(), -q.y(), -q.z()); }

// Each joint's turn in the body's directions, the joints above it as in neutral.
struct SideExchange {
    const Character& c;
    const std::vector<JointRole>& roles;
    Quat axes;

    Quat frame(std::size_t j) const { return axes.inverse() * rotationOf(c.skeleton.neutralWorld[j]); }

    void turnAs(Pose& out, const Pose& in, std::size_t j, std::size_t other) const {
        const Quat there = frame(other) * in.turn[other] * frame(other).inverse();
        out.turn[j] = (frame(j).inverse() * reflected(there) * frame(j)).normalized();
        if (in.shift.empty())
            return;
        Vec3d moved = frame(other) * in.shift[other];
        moved.x() = -moved.x();
        out.shift[j] = frame(j).inverse() * moved;
    }
};

} // namespace

RolePose rolePoseOf(const Character& c, const std::vector<JointRole>& roles, const Pose& pose,
                    const std::string& name) {
    RolePose out;
    out.name = name;
    const PlacedBody body = placedBody(c, roles);
    const std::vector<Quat> turned = bodyTurns(c, body, pose);
    std::vector<int> at(body.joints.size(), -1);
    for (std::size_t j = 0; j < body.joints.size(); ++j) {
        PlacedJoint p = body.joints[j];
        if (p.parent >= 0)
            p.parent = at[static_cast<std::size_t>(p.parent)];
        const Role r = p.place.role;
        if ((r == Role::Unknown || r == Role::Twist || r == Role::Helper || r == Role::Control ||
             r == Role::End || r == Role::Root) &&
            static_cast<int>(j) != body.hips) {
            at[j] = p.parent; // what hangs below it hangs on what is above it
            continue;
        }
        at[j] = static_cast<int>(out.joints.size());
        out.joints.push_back(std::move(p));
        out.turned.push_back(turned[j]);
    }
    if (body.hips >= 0) {
        const auto hips = static_cast<std::size_t>(body.hips);
        out.hips = at[hips];
        const Vec3d moved = worldTransforms(c.skeleton, pose)[hips].translation() -
                            c.skeleton.neutralWorld[hips].translation();
        if (body.hipsHeight > 0)
            out.hipsMoved = body.axes.inverse() * moved / body.hipsHeight;
    }
    for (const TargetWeight& t : pose.targets)
        out.shapes.push_back(
            {c.parts[static_cast<std::size_t>(t.part)].targets[static_cast<std::size_t>(t.target)].name,
             t.weight});
    return out;
}

Pose poseFor(const RolePose& rp, const Character& c, const std::vector<JointRole>& roles,
             std::vector<std::string>* missing) {
    const PlacedBody body = placedBody(c, roles);
    const JointMap map = matchJoints(rp.joints, body.joints, rp.hips, body.hips);
    Pose pose = carryPose(rp.joints, rp.turned, c, body, map);
    if (body.hips >= 0 && body.hipsHeight > 0 && rp.hipsMoved.norm() > 1e-5) {
        const auto hips = static_cast<std::size_t>(body.hips);
        pose.shift.assign(pose.turn.size(), Vec3d::Zero());
        pose.shift[hips] = rotationOf(c.skeleton.neutralWorld[hips]).inverse() *
                           (body.axes * Vec3d(rp.hipsMoved * body.hipsHeight));
    }
    for (const auto& [name, weight] : rp.shapes) {
        bool found = false;
        for (std::size_t p = 0; p < c.parts.size(); ++p)
            for (std::size_t t = 0; t < c.parts[p].targets.size(); ++t)
                if (c.parts[p].targets[t].name == name) {
                    pose.targets.push_back({static_cast<int>(p), static_cast<int>(t), weight});
                    found = true;
                }
        if (!found && missing)
            missing->push_back("the shape " + name);
    }
    if (!missing)
        return pose;
    for (std::size_t k = 0; k < rp.joints.size(); ++k) {
        const JointPlace& place = rp.joints[k].place;
        const int above = rp.joints[k].parent;
        const Quat over = above >= 0 ? rp.turned[static_cast<std::size_t>(above)] : Quat::Identity();
        bool there = over.angularDistance(rp.turned[k]) < radians(2); // it does not turn
        for (const PlacedJoint& j : body.joints)
            there |= j.place.role == place.role && j.place.side == place.side;
        if (!there && (missing->empty() || missing->back() != rp.joints[k].name))
            missing->push_back(rp.joints[k].name);
    }
    return pose;
}

Pose mirrored(const Character& c, const std::vector<JointRole>& roles, const Pose& pose) {
    const SideExchange exchange{c, roles, placedBody(c, roles).axes};
    Pose out = pose;
    for (std::size_t j = 0; j < roles.size(); ++j) {
        if (roles[j].mirror >= 0)
            exchange.turnAs(out, pose, j, static_cast<std::size_t>(roles[j].mirror));
        else if (roles[j].side == Side::Middle)
            exchange.turnAs(out, pose, j, j);
    }
    return out;
}

Pose copiedFrom(const Character& c, const std::vector<JointRole>& roles, const Pose& pose, Side side) {
    const SideExchange exchange{c, roles, placedBody(c, roles).axes};
    Pose out = pose;
    for (std::size_t j = 0; j < roles.size(); ++j)
        if (roles[j].mirror >= 0 && roles[j].side != Side::Middle && roles[j].side != side)
            exchange.turnAs(out, pose, j, static_cast<std::size_t>(roles[j].mirror));
    return out;
}

} // namespace hobble
