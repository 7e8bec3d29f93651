#pragma once
// Joints turned so that others come to stand where they are wanted: damped least squares (Wampler 1986,
// "Manipulator Inverse Kinematic Solutions Based on Vector Formulations and Damped Least-Squares Methods";
// Buss 2004, "Introduction to Inverse Kinematics with Jacobian Transpose, Pseudoinverse and Damped Least
// Squares Methods"), each step brought back within the joints' ranges. Hinges turn about their own axis
// first, so that a knee or an elbow goes the way it bends and never the other.
#include "core/pose/joint_range.h"

namespace hobble {

/// Where a joint's origin is wanted.
struct Pin {
    int joint = -1;
    Vec3d place = Vec3d::Zero(); // world, metres
    bool keepTurn = true;        // the joint also keeps the way it is turned in the world, as far as it may
};

struct Reach {
    Pose pose;
    bool reached = false;
    double farthest = 0; // metres the worst pin is missed by
    int steps = 0;
    std::vector<int> atLimit; // joints that stand at the end of their range
};

struct ReachSettings {
    std::vector<double> willing; // per joint, 0: may not turn, 1: turns freely
    int steps = 120;
    double within = 1e-4; // of `height`: near enough
    double height = 0;    // metres, the body's; 0: the largest extent of the skin stands for it
};

/// From a pose to one in which every pin is met; or, where that cannot be, as near as was found.
Reach reach(const Character& character, const std::vector<JointRole>& roles,
            const std::vector<JointRange>& ranges, const Pose& from, const std::vector<Pin>& pins,
            const ReachSettings& settings);

/// The joints that turn when one is dragged: the limb from it up to the trunk, and with `lean` the spine too.
std::vector<double> willingFor(const Character& character, const std::vector<JointRole>& roles, int dragged,
                               bool lean);

} // namespace hobble
