#pragma once
// A clip at a moment (glTF 2.0, section 3.11, Animations, and appendix C, Interpolation).
#include "core/pose/pose.h"

namespace hobble {

/// Turn and shift away from neutral, and shape targets away from the file's default. A channel's first and
/// last value hold outside its times; scale is left out.
Pose poseAt(const Character& character, const Clip& clip, double seconds);

} // namespace hobble
