#pragma once
// The middle of a limb's flesh: of the loop in which a plane across the limb cuts it, by length along the
// loop. Where a joint belongs that has no reason to lie elsewhere. Our own.
#include "core/measure/girth.h"

namespace hobble {

struct Subject;

/// Nothing where the loop has no length.
std::optional<Vec3d> loopMiddle(const std::vector<EdgePoint>& loop, const std::vector<Vec3>& positions);

/// Of the limb that bends at a joint, cut through a place in neutral, metres: the middle nearest to the
/// place. Nothing where no closed loop is cut there.
std::optional<Vec3d> limbMiddle(const Subject& subject, int joint, const Vec3d& place);

} // namespace hobble
