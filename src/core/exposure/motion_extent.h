#pragma once
// How far a pose goes along each motion of a plan. Our own: what is asked is whether animation comes to the
// place of a motion at which skin breaks, so it is told in that motion's own unit. A joint's turn is taken
// apart into a swing of the bone and a roll about it (swing-twist: Dobrowolski 2015), and the part that goes
// the motion's way counts; a chain goes as far as its joints do by their shares (least squares); a whole pose
// is reached as far as the joint of it that is least on the way; a shape target as far as it is faded in.
#include "core/pose/joint_range.h"

namespace hobble {

class MotionExtents {
public:
    MotionExtents(const Character& character, const std::vector<JointRole>& roles, const Plan& plan);

    std::size_t motionCount() const { return ways_.size(); }
    /// Frames of a clip have no extent: they are animation themselves.
    bool defined(std::size_t motion) const { return ways_[motion].what != Way::Nothing; }
    /// Whether poses tell anything of a motion when they turn only the joints marked, and fade in shape
    /// targets or not.
    bool told(std::size_t motion, const std::vector<char>& turned, bool targets) const;

    /// Per motion, in its unit: degrees or per cent; 0 where the pose goes another way, or there is none.
    void of(const Pose& pose, std::vector<float>& out) const;

    /// A word for all that extents depend on: the same for two plans that differ in limits only.
    const std::string& key() const { return key_; }

private:
    struct Along { // one joint's part in a motion
        std::size_t joint = 0;
        // Its axes: the motion's own, to the side, and the bone, made square to the motion's axis, so that
        // the motion itself is nothing but swing; or, of a roll, the motion's own as the bone.
        JointRange axes;
        bool roll = false;
        double share = 0;           // of a unit of the motion, that one degree here is
        Vec3d turn = Vec3d::Zero(); // of a whole pose: its rotation vector
    };
    struct Way {
        enum What { Nothing, Turns, Pose, Targets } what = Nothing;
        std::vector<Along> joints;
        std::vector<TargetShare> targets;
        double whole = 0; // of a pose: what it is in the unit of the motion
    };
    std::vector<Way> ways_;
    std::vector<char> inPose_; // per joint: whether some whole pose turns it
    std::string key_;
};

} // namespace hobble
