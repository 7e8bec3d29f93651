#pragma once
// A motion is one joint, or a chain that shares, moved through one range; a plan is the list of motions to
// test.
#include "core/character/roles.h"
#include "core/pose/pose.h"

namespace hobble {

struct JointTurn {
    int joint = -1;
    Vec3d axis = Vec3d::UnitX(); // unit, in the joint's own neutral frame
    double share = 1;            // of the motion's angle
};

struct Motion {
    std::string id;           // unique in the plan, stable between builds: "left-elbow-flex"
    std::string name;         // what it does, the same on both sides: "elbow flex"
    std::string limb;         // group: "Arms", "Legs", "Trunk", "Head", "Hands", "Feet", "Tail", "Other"
    Side side = Side::Middle; // of the limb; for head and trunk, the way it turns
    Role role = Role::Unknown;
    bool roll = false; // about the limb's own length
    std::vector<JointTurn> turns;
    std::vector<double> degrees; // the steps; neutral (0) first and last
    double limit() const;        // the largest of them
};

struct Plan {
    std::string name;
    std::vector<Motion> motions;
    std::size_t stepCount() const;
};

Pose poseAt(const Skeleton& skeleton, const Motion& motion, double degrees);

/// Neutral, every `step` degrees up to `limit`, neutral again.
std::vector<double> stepsTo(double limit, double step = 10);

/// The range of motion test of a character: each joint with a role through its anatomical range, both sides,
/// measured from how it stands in neutral. See docs/plan.md for the limits and where they come from.
Plan defaultPlan(const Character& character, const std::vector<JointRole>& roles);

} // namespace hobble
