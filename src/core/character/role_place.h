#pragma once
// What places say of roles. A limb that reaches the ground is a leg; of legs on two girdles the one nearer to
// the head is a fore leg; one that does not is an arm or a wing. The trunk lies in the middle, limbs beside
// it.
#include "core/character/role_labels.h"
#include "core/character/symmetry.h"

namespace hobble {

/// Adds to the evidence of each joint; y is up. `reachesDown` is lowestReach, `words` what names say, for
/// where the head is.
void addPlace(const Skeleton& skeleton, const MirrorPlane& plane, const std::vector<char>& movesSkin,
              const std::vector<double>& reachesDown, const std::vector<LabelScores>& words,
              std::vector<LabelScores>& evidence);

/// Per joint how far down it and its own skin reach, metres along `up`: a foot's joint may lie high above its
/// sole. Skin counts where most of its weight is the joint's.
std::vector<double> lowestReach(const Character& character, const Vec3d& up);

} // namespace hobble
