#pragma once
// A pose turns joints away from neutral. The neutral pose is every turn at identity.
#include "core/character/character.h"

namespace hobble {

struct TargetWeight {
    int part = 0, target = 0;
    double weight = 0; // on top of the file's default state
};

struct Pose {
    /// Per joint: local = neutralLocal · shift · turn. Rotation about the joint's own axes, through its own
    /// origin. Joints that were added behind those it knows stay as they are.
    std::vector<Quat> turn;
    std::vector<Vec3d> shift; // per joint, metres in its own frame; empty when none is shifted
    std::vector<TargetWeight> targets;

    static Pose neutral(const Skeleton& skeleton);
};

/// Rx(x) · Ry(y) · Rz(z), degrees.
Quat turnXyz(double x, double y, double z);

/// World transform of every joint in the pose, as set: nothing follows by itself (core/pose/drive.h).
std::vector<Transform> worldTransforms(const Skeleton& skeleton, const Pose& pose);

} // namespace hobble
