#pragma once
// What each joint is, from the tree and the places of the joints alone, for skeletons whose names say
// nothing: legs reach the ground, arms hang higher on the trunk, the head ends it, a tail leaves it at the
// legs, and a hand is where a limb fans out. Y is up.
#include "core/character/roles.h"
#include "core/character/symmetry.h"

namespace hobble {

/// One per joint; Unknown where the shape says nothing either. `reachesDown` is lowestReach (role_place.h).
std::vector<JointRole> rolesByShape(const Character& character, const MirrorPlane& plane,
                                    const std::vector<double>& reachesDown);

} // namespace hobble
