#pragma once
// What a plan does not move: skin that no motion deforms is not tested, and is said.
//
// A joint is exercised when a motion that is on turns or shifts it, or a driver does that follows one. The
// base (the root or pelvis all else hangs from) is exercised when something that hangs from it is; a twist
// joint or a helper that no driver moves, when what it helps is. Our own.
#include "core/pose/motion.h"

namespace hobble {

/// Under this nothing is called clean.
inline constexpr double kLeastCoverage = 0.9;

enum class WhyUntested {
    Off,         // its motions are
    FollowsNone, // a twist joint or helper of something that is not turned, driven or not
    Base,        // it carries the rest, and nothing that hangs from it is turned
    NotKnown,    // what it is
    NotPlanned
};

struct UntestedJoint {
    int joint = -1;
    double share = 0; // of the skin's area, by its weights on the joint
    WhyUntested why = WhyUntested::NotPlanned;
};

struct Coverage {
    double share = 1;                    // of the area of skin that is bound to joints
    std::vector<UntestedJoint> untested; // that hold skin; the largest share first
};

Coverage coverageOf(const Character& character, const std::vector<JointRole>& roles, const Plan& plan);

/// The same, where what each joint holds is known already: it depends on the character alone.
std::vector<double> skinHeldBy(const Character& character); // m², per joint
Coverage coverageOf(const Character& character, const std::vector<JointRole>& roles, const Plan& plan,
                    const std::vector<double>& held);

/// The plan with motions for a joint: those that are off are put on; where there are none, by its shape.
Plan planWith(Plan plan, const Character& character, const std::vector<JointRole>& roles, int joint);

} // namespace hobble
