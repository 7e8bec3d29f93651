#include "core/character/moved_joint.h"

#include <algorithm>

namespace hobble {

namespace {

// The empty group right above a joint, in the same place; -1 where there is none.
int groupAbove(const Character& c, int joint) {
    constexpr double same = 1e-5; // metres
    const Skeleton& sk = c.skeleton;
    const int p = sk.parent[static_cast<std::size_t>(joint)];
    if (p < 0 || sk.parent[static_cast<std::size_t>(p)] < 0 || (sk.place(p) - sk.place(joint)).norm() > same)
        return -1;
    const auto& held = c.weights.joint;
    const bool empty = std::find(held.begin(), held.end(), static_cast<std::uint16_t>(p)) == held.end();
    const bool alone = std::count(sk.parent.begin(), sk.parent.end(), p) == 1;
    return empty && alone ? p : -1;
}

} // namespace

void moveJoint(Character& character, int joint, const Transform& world) {
    Skeleton& sk = character.skeleton;
    const auto j = static_cast<std::size_t>(joint);
    const Transform before = sk.neutralWorld[j];
    if (const int group = groupAbove(character, joint);
        group >= 0 && world.translation() != before.translation()) {
        Transform moved = sk.neutralWorld[static_cast<std::size_t>(group)];
        moved.translation() = world.translation();
        moveJoint(character, group, moved);
    }
    sk.neutralWorld[j] = world;
    if (!sk.restWorld.empty())
        sk.restWorld[j] = world * before.inverse() * sk.restWorld[j];
    const auto local = [&](std::size_t k) {
        const int p = sk.parent[k];
        sk.neutralLocal[k] =
            p < 0 ? sk.neutralWorld[k]
                  : Transform(sk.neutralWorld[static_cast<std::size_t>(p)].inverse() * sk.neutralWorld[k]);
    };
    local(j);
    for (std::size_t k = 0; k < sk.parent.size(); ++k)
        if (sk.parent[k] == joint)
            local(k);
    for (Skin& skin : character.skins)
        if (j < skin.inverseBind.size())
            skin.inverseBind[j] = world.inverse() * before * skin.inverseBind[j];
    const Quat turned = rotationOf(world).inverse() * rotationOf(before);
    if (turned.vec().norm() < 1e-12)
        return;
    for (Driver& d : character.drivers) {
        if (d.source == joint) {
            d.about = turned * d.about;
            for (DriverPose& p : d.poses)
                p.turn = turned * p.turn * turned.inverse();
        }
        if (d.output != Driver::Output::Target && d.joint == joint)
            d.along = turned * d.along;
    }
}

} // namespace hobble
