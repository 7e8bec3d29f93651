#pragma once
// Motions that are to close something: a blink, lips that meet. Known by what they are called, as whoever
// made them did.
#include "core/character/roles.h"
#include "core/pose/motion.h"

namespace hobble {

enum class Closes { Nothing, Eyes, Mouth };

struct Closing {
    Closes what = Closes::Nothing;
    Side side = Side::Middle; // of the eye; middle: both
};

/// Of whole poses and shapes, at their end; joints' own motions and clips are to close nothing.
Closing closingOf(const Motion& motion);

/// The line between an eye's corners, which a lid turns about: the way its skin spreads most, seen from where
/// it stands; `across`, of length 1, where that is more than 50° off it, or the lid holds too little skin.
Vec3d lidAxis(const Character& character, int lid, const Vec3d& across);

/// How far, degrees, a lid has to turn about its motion's axis until it meets what lies opposite, in neutral,
/// where the two are farthest apart; 0 where that cannot be told: it holds too little skin, or nothing lies
/// opposite.
double degreesToClose(const Character& character, const JointTurn& turn);

} // namespace hobble
