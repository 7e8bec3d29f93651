#pragma once
// One measure over the whole skin in one pose, to be looked at: a value per welded vertex, "unchanged" where
// the motion does nothing. What is measured of a zone or a part as a whole is the same all over it.
#include "core/judge/limits.h"
#include "core/measure/measured.h"
#include "core/pose/motion.h"

namespace hobble {

struct Subject;

/// Floors at which nothing is left out, for a single pose to be looked at.
Floors noFloors();

/// `measured` should be without floors, or small values are shown as unchanged. Spike shows roughness; what
/// only a whole run tells (one-sided, wrong bend) is read from the zones of the pose.
std::vector<float> skinValues(const Subject& subject, const Motion& motion, const MeasuredMotion& measured,
                              std::size_t pose, Kind kind);

} // namespace hobble
