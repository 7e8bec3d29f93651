#pragma once
// The plan as one clip, to be scrubbed in any program and thrown away: neutral first, between motions and
// last; every step a key with a name. What follows by itself (twists, helpers, shapes) is written out, since
// other programs do not know the drivers.
#include "core/pose/motion.h"

namespace hobble {

struct TestClipOptions {
    double framesPerSecond = 24;
    int framesPerStep = 2; // between two steps of a motion
    int rest = 4;          // frames of neutral between two motions
};

/// Of the motions that are on. The clip's `marks` name its keys: "neutral", "left elbow flex 90°".
Clip testClip(const Character& character, const Plan& plan, const TestClipOptions& options = {});

} // namespace hobble
