#pragma once
// Which joint of one character stands for which of another: by name where names and roles agree, by role,
// side and place in its chain where they do not. Our own.
#include "core/measure/subject.h"

#include <algorithm>

namespace hobble {

struct JointPairing {
    std::vector<int> other; // per joint of one, the other's; −1 where it has none
    int byName = 0, byRole = 0;
    /// Of one's joints that hold skin, or move some, and of those that have a counterpart; and the other's.
    int moving = 0, movingPaired = 0, otherMoving = 0;
    /// Where the other's neutral pose is a copy of this one's, moved and scaled: what takes a place of one to
    /// the other's. Otherwise their proportions differ.
    bool sameBody = false;
    Transform toOther = Transform::Identity(); // exactly that where nothing moved
    double scale = 1; // of `toOther`: 100 where one file was metres, the other centimetres

    /// Too few joints in common for one to be a build of the other, or even a body like it: of a head alone,
    /// most are.
    bool strangers() const { return movingPaired * 4 < std::min(moving, otherMoving); }
};

JointPairing pairJoints(const Subject& one, const Subject& other);

/// Left against right of one body: each joint's mirror, and those of the middle themselves.
JointPairing mirrorJoints(const Subject& subject);

} // namespace hobble
