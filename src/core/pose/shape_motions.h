#pragma once
// Shape targets as motions: each faded in from 0 to 1. One that a driver fades in with a joint is tested with
// that joint's motions, and not by itself. One that shapes the trunk as a whole is a body preset: it is
// there, and off, since a stout body is no fault; variants test the plan on it (core/character/variant.h).
#include "core/pose/motion.h"

namespace hobble {

std::vector<Motion> shapeMotions(const Character& character, const std::vector<JointRole>& roles);

/// The joint with the most weight on what a target moves: where it is measured. 0 where nothing is weighted.
int jointOfTarget(const Character& character, int part, int target);

/// Fully faded in, those among whose name's words is this one.
std::vector<TargetWeight> targetsCalled(const Character& character, const std::string& word);

} // namespace hobble
