#pragma once
// The range of a joint as arcs on the character: where its bone's tip goes when one of its angles is turned,
// from limit to limit. Geometry only; the viewport paints and grasps them.
#include "core/pose/joint_range.h"

namespace hobble {

struct RangeArc {
    int axis = 0;                           // 0 flex, 1 side, 2 roll
    double least = 0, most = 0;             // degrees, as planned
    bool hasLeast = false, hasMost = false; // a motion of the plan says so, and can be given another end
    int leastMotion = -1, mostMotion = -1;  // which
    double now = 0;                         // degrees of the pose
    // Where things stand: the joint, its frame before it is turned, all its angles, and the arc's size.
    Vec3d centre = Vec3d::Zero();
    Quat frame = Quat::Identity();
    Vec3d angles = Vec3d::Zero();
    double radius = 0.1;

    Vec3d at(double degrees) const; // world
};

/// Those the plan has a motion for; none where nothing is known of the joint. `posed`: world, per joint.
std::vector<RangeArc> rangeArcs(const Character& character, const std::vector<JointRole>& roles,
                                const std::vector<JointRange>& ranges, const Pose& pose,
                                const std::vector<Transform>& posed, int joint);

} // namespace hobble
