#pragma once
// Makes the plan of all a character's joints. Each role has its motions: arms, legs, hands and wings in
// limb_motions.cpp, what a head has in head_motions.cpp, chains and joints without a role in planner.cpp.
// Within core/pose; others call defaultPlan().
//
// Limits are those of healthy adults in clinical goniometry (American Academy of Orthopaedic Surgeons 1965,
// "Joint Motion: Method of Measuring and Recording"; Norkin and White 2016, "Measurement of Joint Motion"),
// rounded to 5°. Those counted from a hanging arm or a straight limb are reduced by how the limb stands in
// neutral. A dog's are those of Jaegger, Marcellin-Little and Levine 2002, "Reliability of Goniometry in
// Labrador Retrievers", counted from a standing animal. Tails, ears, wings and the like have no such source:
// theirs are working values.
#include "core/character/body.h"
#include "core/character/hand.h"
#include "core/pose/motion.h"

#include <map>

namespace hobble {

class Planner {
public:
    Planner(const Character& c, const std::vector<JointRole>& roles)
        : c_(c), roles_(roles), body_(bodyFrame(c, roles)), holds_(holdsSkin(c)) {}

    Plan make();

    /// Of one joint that no motion is planned for: by its shape alone.
    std::vector<Motion> byShape(int joint);

private:
    struct ChainLimits {
        double front, back, side, turn;
    };

    const Character& c_;
    const std::vector<JointRole>& roles_;
    BodyFrame body_;
    std::vector<char> holds_; // per joint: skin of its own
    Plan plan_;
    std::map<std::string, int> ids_;

    Vec3d outward(int j) const { return roles_[j].side == Side::Right ? Vec3d(-body_.left) : body_.left; }

    static Vec3d swing(const Vec3d& from, const Vec3d& towards);
    // Where a pose shows that the skin goes: from the joint to the middle of what it and what hangs below it
    // hold.
    Vec3d lever(int j) const;
    // About an axis across the body, whichever way round brings the skin `towards`.
    Vec3d about(const Vec3d& axis, int j, const Vec3d& towards) const;
    // A limb that reaches out to the side, as an insect's or a lizard's, rather than down: it is raised and
    // lowered.
    bool sprawls(int j) const;
    Vec3d toOwnFrame(int j, const Vec3d& worldAxis) const {
        return rotationOf(c_.skeleton.neutralWorld[j]).inverse() * worldAxis;
    }

    void add(const std::vector<int>& joints, const Vec3d& worldAxis, double limit, Limb limb,
             const std::string& name, Side side, bool roll = false);
    const char* sourceOf(Role role) const;
    void add(int joint, const Vec3d& worldAxis, double limit, Limb limb, const std::string& name,
             bool roll = false);
    // The axis that closes a hinge. A limb clearly bent in neutral shows it; one that is nearly straight is
    // trusted only where it agrees with what the joint's role and the way the body faces say.
    Vec3d hinge(int j, const Vec3d& towards, double& bentDegrees) const;

    void plan(int j);

    // limb_motions.cpp
    void collarbone(int j, const std::string& part);
    void rolls(int j, double in, double out, Limb limb, const std::string& part);
    void shoulder(int j);
    void bendAndStraighten(int j, Limb limb, const std::string& part, double limit, const Vec3d& towards);
    void wrist(int j);
    void finger(int j);
    // Of the hand that a finger is of; the arm's last joint where no wrist is known.
    Hand handAbove(int j) const;
    // The hand's bones cup it: those of the ring and little finger give towards the palm, the others hardly.
    void palm(int j);
    // Fingers part from the hand's middle; the one that lies along it has nowhere to part to.
    void spread(int j, int wrist, const Vec3d& palm, const std::string& part);
    // A wing beats at its root and folds at its further joints.
    void wing(int j);
    void fetlock(int j);
    void raised(int j, double up, double down, Limb limb, const std::string& part);
    void hip(int j);
    void ankle(int j);
    void toe(int j);
    void feather(int j);

    // head_motions.cpp
    // Nothing of the eye bends; the lids around it may follow.
    void eye(int j);
    void ear(int j);
    void head(int j);
    // A jaw turns about the line between its hinges; where its skin lies says which way is open.
    void jaw(int j);
    // A lid turns about the line between the eye's corners; the upper one does most of a blink.
    void lid(int j);
    void tongue(int j);

    // Turning what everything hangs from moves the whole character and bends nothing.
    bool holdsAll(int j) const;
    bool skinAbove(int j) const;
    void unnamed(int j);
    // What nothing is known of is turned four ways and rolled; joints of a chain share it.
    void sway(const std::vector<int>& joints, const std::string& n, double limit, bool rolls);
    // From the first joint to where the last one's bone ends.
    Vec3d chainDirection(const std::vector<int>& joints) const;
    // Joints of a role that follow each other, whatever lies between them; where one forks, each goes on
    // alone.
    std::vector<std::vector<int>> chainsOf(Role role) const;
    // Joints of one role that follow each other share the motion evenly.
    void chain(Role role, Limb limb, const std::string& part, const ChainLimits& limits);
};

} // namespace hobble
