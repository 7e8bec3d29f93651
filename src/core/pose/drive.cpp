#include "core/pose/drive.h"

#include <algorithm>
#include <cmath>

namespace hobble {

double turnAbout(const Quat& turn, const Vec3d& axis) {
    const double along = turn.vec().dot(axis), w = turn.w();
    if (along * along + w * w < 1e-18)
        return 0; // half a turn about an axis square to this one: its twist is undefined
    double out = 2 * degrees(std::atan2(along, w));
    if (out > 180)
        out -= 360;
    if (out <= -180)
        out += 360;
    return out;
}

Driven drive(const Character& c, const Pose& pose, const std::vector<char>* off) {
    Driven out;
    Pose driven = pose;
    driven.turn.resize(std::max(driven.turn.size(), c.skeleton.name.size()), Quat::Identity());
    out.targets = pose.targets;
    for (std::size_t i = 0; i < c.drivers.size(); ++i) {
        if (off && (*off)[i])
            continue;
        const Driver& d = c.drivers[i];
        const Quat& turn = driven.turn[d.source];
        const double x = d.poses.empty() ? driverOut(d, turnAbout(turn, d.about)) : posesOut(d, turn);
        if (std::abs(x) < 1e-9)
            continue;
        switch (d.output) {
        case Driver::Output::Turn:
            driven.turn[d.joint] = driven.turn[d.joint] * Quat(Eigen::AngleAxisd(radians(x), d.along));
            break;
        case Driver::Output::Shift:
            driven.shift.resize(driven.turn.size(), Vec3d::Zero());
            driven.shift[d.joint] += x * d.along;
            break;
        case Driver::Output::Target:
            out.targets.push_back({d.part, d.target, x});
            break;
        }
    }
    out.world = worldTransforms(c.skeleton, driven);
    return out;
}

} // namespace hobble
