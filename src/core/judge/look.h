#pragma once
// From where a joint is best looked at in a motion: a bend from its side, along the axis it turns about; a
// roll from the front and a little outside. Our own rule.
#include "core/measure/subject.h"
#include "core/pose/motion.h"

namespace hobble {

/// From the joint to the eye, world; not of unit length.
Vec3d bestLook(const Subject& subject, const Motion& motion, int joint);

} // namespace hobble
