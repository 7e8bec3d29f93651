#include "app/plan/range_arcs.h"

#include <algorithm>

namespace hobble {

Vec3d RangeArc::at(double degrees) const {
    Vec3d a = angles;
    a[axis] = degrees;
    JointRange plain; // its frame stands in `frame` already
    const Quat turn = turnOf(plain, a);
    const Vec3d bone = frame * (turn * Vec3d::UnitZ());
    if (axis < 2)
        return centre + radius * bone;
    return centre + radius * (0.55 * bone + 0.3 * (frame * (turn * Vec3d::UnitX())));
}

std::vector<RangeArc> rangeArcs(const Character& c, const std::vector<JointRole>& roles,
                                const std::vector<JointRange>& ranges, const Pose& pose,
                                const std::vector<Transform>& posed, int joint) {
    std::vector<RangeArc> out;
    if (joint < 0 || joint >= static_cast<int>(ranges.size()) ||
        !ranges[static_cast<std::size_t>(joint)].known)
        return out;
    const auto j = static_cast<std::size_t>(joint);
    const JointRange& r = ranges[j];
    // as long as the bone, so that the arc runs by the next joint
    double length = 0;
    for (int k = 0; k < c.skeleton.size(); ++k)
        if (c.skeleton.parent[static_cast<std::size_t>(k)] == joint &&
            roles[static_cast<std::size_t>(k)].role != Role::Twist &&
            roles[static_cast<std::size_t>(k)].role != Role::Helper)
            length =
                std::max(length, c.skeleton.neutralLocal[static_cast<std::size_t>(k)].translation().norm());
    const int p = c.skeleton.parent[j];
    RangeArc arc;
    arc.centre = posed[j].translation();
    arc.frame = (p < 0 ? Quat::Identity() : rotationOf(posed[static_cast<std::size_t>(p)])) *
                rotationOf(c.skeleton.neutralLocal[j]) * r.frame;
    arc.angles = anglesIn(r, pose.turn[j]);
    arc.radius = std::clamp(length, 0.06 * c.extent(), 0.2 * c.extent());
    for (int axis = 0; axis < 3; ++axis) {
        const auto a = static_cast<std::size_t>(axis);
        arc.axis = axis;
        arc.hasLeast = r.leastMotion[a] >= 0;
        arc.hasMost = r.mostMotion[a] >= 0;
        arc.leastMotion = r.leastMotion[a];
        arc.mostMotion = r.mostMotion[a];
        arc.least = arc.hasLeast ? r.least[a] : 0;
        arc.most = arc.hasMost ? r.most[a] : 0;
        arc.now = arc.angles[axis];
        if (arc.hasLeast || arc.hasMost)
            out.push_back(arc);
    }
    return out;
}

} // namespace hobble
