#pragma once
// A pose told by what joints are, so that it can be kept on a shelf and put on any character that has them;
// and the two sides of a pose exchanged.
#include "core/pose/retarget.h"

namespace hobble {

struct RolePose {
    std::string name;
    std::vector<PlacedJoint> joints; // those with a role, as the body stood
    std::vector<Quat> turned;        // per joint, in the body's directions (core/pose/retarget.h)
    int hips = -1;                   // among the joints
    Vec3d hipsMoved = Vec3d::Zero(); // left, up, forward, / the hips' height
    std::vector<std::pair<std::string, double>> shapes; // shape targets by name, and their weight
    std::string picture;                                // PNG, base64; may be empty
};

RolePose rolePoseOf(const Character& character, const std::vector<JointRole>& roles, const Pose& pose,
                    const std::string& name);

/// On a character. `left`: names of what it lacks, when not null.
Pose poseFor(const RolePose& pose, const Character& character, const std::vector<JointRole>& roles,
             std::vector<std::string>* missing = nullptr);

/// Left becomes right and right left.
Pose mirrored(const Character& character, const std::vector<JointRole>& roles, const Pose& pose);

/// One side's joints turned as the other's are.
Pose copiedFrom(const Character& character, const std::vector<JointRole>& roles, const Pose& pose, Side side);

} // namespace hobble
