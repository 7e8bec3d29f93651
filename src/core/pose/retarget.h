#pragma once
// A pose carried from one body to another: by what each joint is, not by what it is called. How a joint is
// turned away from how its body stands is told in the body's own directions (left, up, forward); where two
// bodies stand differently (arms out, arms down) limbs are brought to point the same way. Proportions do not
// matter: the hips' height is scaled by the length of the legs (after Monzani, Baerlocher, Boulic and
// Thalmann 2000, "Using an Intermediate Skeleton and Inverse Kinematics for Motion Retargeting"; Gleicher
// 1998, "Retargetting Motion to New Characters").
#include "core/character/body.h"
#include "core/pose/joint_range.h"
#include "core/pose/motion.h"
#include "core/progress.h"

#include <map>

namespace hobble {

/// Which joint of a body, whatever it is called.
struct JointPlace {
    Role role = Role::Unknown;
    Side side = Side::Middle;
    bool fore = false;
    int digit = -1, segment = 0;

    bool operator==(const JointPlace&) const = default;
};

/// A joint as another body sees it.
struct PlacedJoint {
    JointPlace place;
    std::string name;
    int parent = -1;            // among the placed joints
    Vec3d bone = Vec3d::Zero(); // unit, left, up, forward, as the body stands; zero where there is none
};

struct PlacedBody {
    std::vector<PlacedJoint> joints; // one per joint of the skeleton
    Quat axes = Quat::Identity();    // from (left, up, forward) to the world
    int hips = -1;                   // the joint that carries both legs
    double hipsHeight = 0;           // above the lowest foot, in the skeleton's unit
    bool quadruped = false;
};

PlacedBody placedBody(const Character& character, const std::vector<JointRole>& roles);

/// Where a joint's turn comes from: between two joints of the source, as a chain of another number of joints
/// asks for.
struct JointSource {
    int joint = -1, before = -1;
    double share = 1; // of the way from `before` to `joint`
    bool said = false;
};
using JointMap = std::vector<JointSource>; // per joint of the target

/// `said`: what a person has corrected, by name of the target's joint; an empty name is "nothing".
JointMap matchJoints(const std::vector<PlacedJoint>& from, const std::vector<PlacedJoint>& to, int fromHips,
                     int toHips, const std::map<std::string, std::string>& said = {});

/// The pose of the target in which its joints are turned as the source's are. `turned`: per joint of the
/// source, how it is turned in its body's directions away from how it stands. What nothing is mapped to goes
/// along.
Pose carryPose(const std::vector<PlacedJoint>& from, const std::vector<Quat>& turned, const Character& to,
               const PlacedBody& body, const JointMap& map);

/// How every joint of a pose is turned in its body's directions.
std::vector<Quat> bodyTurns(const Character& character, const PlacedBody& body, const Pose& pose);

struct RetargetSettings {
    std::map<std::string, std::string> said; // joint of the target → joint of the clip
    double restSeconds = -1; // the moment of the clip that stands as its body stands; −1: the file's
    bool moveHips = true;    // up and down, to and fro, scaled
    bool keepFeet = false;   // a foot that stands does not slide
};

/// Carries the moments of one clip to a character.
class Retargeter {
public:
    /// `source` is a skeleton with clips; it may be the target itself or have its very skeleton, whose clips
    /// are then taken as they are.
    Retargeter(const Character& source, const Clip& clip, const Character& target,
               const std::vector<JointRole>& targetRoles, const std::vector<JointRange>& ranges,
               const RetargetSettings& settings);

    /// One pose per moment (rising). Stops early, and returns fewer, when the progress is stopped.
    std::vector<Pose> poses(const std::vector<double>& seconds, const Progress& progress = {}) const;

    bool asItIs() const { return same_; }
    const JointMap& map() const { return map_; }
    const std::vector<JointRole>& sourceRoles() const { return sourceRoles_; }
    const Character& source() const { return source_; } // as it stands at rest
    double scale() const { return scale_; }             // of lengths
    /// What cannot be carried, in plain words.
    const std::vector<std::string>& notes() const { return notes_; }

private:
    void keepFeet(std::vector<Pose>& poses, const std::vector<double>& seconds) const;
    void findFloor();

    Character source_;
    Clip clip_;
    const Character& target_;
    const std::vector<JointRole>& targetRoles_;
    const std::vector<JointRange>& ranges_;
    RetargetSettings settings_;
    std::vector<JointRole> sourceRoles_;
    PlacedBody from_, to_;
    JointMap map_;
    bool same_ = false;
    double scale_ = 1, floor_ = 0; // the source's, along its up
    Vec3d start_ = Vec3d::Zero();
    std::vector<std::string> notes_;
};

} // namespace hobble
