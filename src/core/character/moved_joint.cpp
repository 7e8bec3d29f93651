#include "core/character/moved_joint.h"

namespace hobble {

void moveJoint(Character& character, int joint, const Transform& world) {
    Skeleton& sk = character.skeleton;
    const auto j = static_cast<std::size_t>(joint);
    const Transform before = sk.neutralWorld[j];
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
