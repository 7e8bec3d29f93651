#pragma once
// A pose turns joints away from neutral. The neutral pose is every turn at identity.
#include "core/character/character.h"

namespace hobble {

struct Pose {
    /// Per joint: local = neutralLocal · turn. Rotation about the joint's own axes, through its own origin.
    std::vector<Quat> turn;

    static Pose neutral(const Skeleton& skeleton);
};

/// Rx(x) · Ry(y) · Rz(z), degrees.
Quat turnXyz(double x, double y, double z);

/// World transform of every joint in the pose.
std::vector<Transform> worldTransforms(const Skeleton& skeleton, const Pose& pose);

} // namespace hobble
