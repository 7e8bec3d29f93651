#pragma once
// A motion is one joint, or a chain that shares, moved through one range; or a whole pose grown from neutral;
// or frames of a clip; or a shape target faded in. A plan is the list of motions to test.
#include "core/pose/limb.h"
#include "core/pose/pose.h"

#include <memory>

namespace hobble {

struct JointTurn {
    int joint = -1;
    Vec3d axis = Vec3d::UnitX(); // unit, in the joint's own neutral frame
    double share = 1;            // degrees for each unit of the motion; 0: named only to be measured there
};

struct JointShift {
    int joint = -1;
    Vec3d perUnit = Vec3d::Zero(); // metres in the joint's own neutral frame, for each unit of the motion
};

struct TargetShare {
    int part = -1, target = -1;
    double perUnit = 0.01; // weight for each unit of the motion
};

/// A pose at a place of the motion; in between, poses are blended.
struct MotionKey {
    double at = 0;
    Pose pose;
};

/// What a motion's steps count: degrees of its joint; per cent of the way from neutral to a pose or of a
/// shape target; frames of a clip.
enum class Span { Degrees, Percent, Frames };

struct Motion {
    std::string id;   // unique in the plan, stable between builds: "left-elbow-flex"
    std::string name; // what it does, the same on both sides: "elbow flex"
    Limb limb = Limb::Other;
    Side side = Side::Middle; // of the limb; for head and trunk, the way it turns
    Role role = Role::Unknown;
    bool roll = false;  // about the limb's own length
    std::string source; // where its range comes from: "AAOS 1965", "working value", "set by hand", a file
    bool on = true;     // motions that are off stay in the plan and are not run
    Span span = Span::Degrees;
    std::vector<JointTurn> turns; // the first leads; never empty: a shape target names the joint it sits at
    std::vector<JointShift> shifts;
    std::vector<TargetShare> targets;
    std::shared_ptr<const std::vector<MotionKey>>
        keys;                        // rising; where there are some, turns only name joints
    std::vector<std::size_t> frames; // of the clip, per key
    std::string beyond;              // a clip's frames past the planned ranges: in which way; else empty
    std::vector<double> steps;       // in the unit of the span; neutral (0) first and last
    double limit() const;            // the largest of them
    /// About which axis a turn goes, for what follows by that axis only; null where it may be any.
    const Vec3d* axisOf(const JointTurn& turn) const { return span == Span::Degrees ? &turn.axis : nullptr; }
};

struct Plan {
    std::string name;
    std::vector<Motion> motions;
    /// Between two steps where a limit is first passed, steps are halved until they are this close; 0: never.
    double refineTo = 0;
    std::size_t stepCount() const;         // of the motions that are on
    int find(const std::string& id) const; // -1 when there is none
};

/// What a motion of an older plan is called now: fingers were numbered before they had names.
std::string presentId(const std::string& id);

Pose poseAt(const Skeleton& skeleton, const Motion& motion, double at);

/// "left elbow flex"; poses and clips by their name.
std::string wordsFor(const Motion& motion);
/// An amount of the motion with its unit: "120°", "80 %", "frame 12".
std::string wordsFor(const Motion& motion, double at);

/// The step next to a place, further out or nearer to neutral; the limit or neutral where there is none.
double stepBeside(const Motion& motion, double at, bool further);
/// The same motion on the other side; −1 when there is none.
int otherSideOf(const Plan& plan, int motion);

/// Neutral, every `step` degrees up to `limit`, neutral again.
std::vector<double> stepsTo(double limit, double step = 10);

/// The range of motion test of a character: each joint with a role through its anatomical range, both sides,
/// measured from how it stands in neutral. See docs/plan.md for the limits and where they come from.
Plan defaultPlan(const Character& character, const std::vector<JointRole>& roles);

/// For a joint that none of the plan's motions turns: four ways and a roll, by its shape alone.
std::vector<Motion> motionsByShape(const Character& character, const std::vector<JointRole>& roles,
                                   int joint);

/// That, and the compound poses that its joints allow, and its shape targets (core/pose/compound_poses.h,
/// core/pose/shape_motions.h).
Plan fullPlan(const Character& character, const std::vector<JointRole>& roles);

} // namespace hobble
