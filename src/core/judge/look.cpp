#include "core/judge/look.h"

#include <algorithm>

namespace hobble {

std::vector<int> jointsMoved(const Subject& s, const Motion& motion) {
    std::vector<int> out;
    for (const JointTurn& t : motion.turns)
        if (!s.zones[static_cast<std::size_t>(t.joint)].empty() &&
            std::find(out.begin(), out.end(), t.joint) == out.end())
            out.push_back(t.joint);
    if (out.empty())
        out.push_back(motion.turns.front().joint);
    return out;
}

Vec3d bestLook(const Subject& s, const Motion& motion, int joint) {
    const BodyFrame& body = s.body;
    const Vec3d outer =
        s.roles[static_cast<std::size_t>(joint)].side == Side::Right ? Vec3d(-body.left) : body.left;
    const Vec3d favoured = 0.8 * body.forward + 0.6 * outer + 0.15 * body.up;
    if (motion.roll)
        return favoured;
    const JointTurn& t = motion.turns.front();
    const Vec3d axis =
        rotationOf(s.character->skeleton.neutralWorld[static_cast<std::size_t>(t.joint)]) * t.axis;
    return (axis.dot(favoured) < 0 ? Vec3d(-axis) : axis) + 0.25 * favoured;
}

} // namespace hobble
