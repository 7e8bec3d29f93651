#pragma once
// A pose as the shot will have it: with everything that follows by itself.
#include "core/pose/pose.h"

namespace hobble {

/// Degrees a rotation turns about a unit axis: its twist in the swing-twist decomposition (Dobrowolski 2015,
/// "Swing-twist decomposition in Clifford algebra"), -180 … 180.
double turnAbout(const Quat& turn, const Vec3d& axis);

struct Driven {
    std::vector<Transform> world;      // per joint
    std::vector<TargetWeight> targets; // those away from the default
};

/// `off`, when not null, flags drivers that are left out: what would the pose be without them?
Driven drive(const Character& character, const Pose& pose, const std::vector<char>* off = nullptr);

} // namespace hobble
