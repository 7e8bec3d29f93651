#pragma once
// From where a joint is best looked at in a motion: a bend from its side, along the axis it turns about; a
// roll from the front and a little outside; and what a motion is looked at for. Our own rule.
#include "core/measure/subject.h"
#include "core/pose/motion.h"

namespace hobble {

/// The joints a motion turns, that skin is seen at: what it is looked at for. Never empty.
std::vector<int> jointsMoved(const Subject& subject, const Motion& motion);

/// From the joint to the eye, world; not of unit length.
Vec3d bestLook(const Subject& subject, const Motion& motion, int joint);

} // namespace hobble
