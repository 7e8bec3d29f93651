#pragma once
// How far each joint may turn, as the plan's own motions say: what arcs show, inverse kinematics keeps to,
// and clips are held against. A turn is taken apart into a swing of the bone and a roll about it
// (swing-twist: Dobrowolski 2015); a swing towards between two planned directions may reach the ellipse
// between their limits (Korein 1985, "A Geometric Investigation of Reach": reach cones).
#include "core/character/body.h"
#include "core/pose/motion.h"

namespace hobble {

struct JointRange {
    bool known = false;            // the plan says something of this joint
    Quat frame = Quat::Identity(); // from (flex, side, bone) axes to the joint's own neutral frame
    std::array<double, 3> least{0, 0, 0},
        most{0, 0, 0}; // degrees about flex, side and bone; least <= 0 <= most
    std::array<int, 3> leastMotion{-1, -1, -1},
        mostMotion{-1, -1, -1}; // of the plan: which says so; -1: none
};

/// Per joint. Motions that are off count too: a range holds whether it is tested or not. What the plan does
/// not name is let a little way (docs/plan.md: a foot tips, a shin rolls, a forearm takes the hand's roll).
std::vector<JointRange> jointRanges(const Character& character, const std::vector<JointRole>& roles,
                                    const Plan& plan);

/// Degrees of a turn about the range's flex, side and bone axes.
Vec3d anglesIn(const JointRange& range, const Quat& turn);
Quat turnOf(const JointRange& range, const Vec3d& angles);

/// Degrees beyond the range; 0 within it, and where nothing is known.
double beyond(const JointRange& range, const Quat& turn);

/// The nearest turn within the range; the turn itself where nothing is known.
Quat within(const JointRange& range, const Quat& turn);

/// The greatest share of its range the joint uses, 0 … 1 and more; 0 where nothing is known.
double shareOf(const JointRange& range, const Quat& turn);

} // namespace hobble
