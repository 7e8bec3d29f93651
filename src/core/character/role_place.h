#pragma once
// What places say of roles. A limb that reaches the ground is a leg; of legs on two girdles the one nearer to
// the head is a fore leg; one that does not is an arm or a wing. The trunk lies in the middle, limbs beside
// it.
#include "core/character/role_labels.h"
#include "core/character/symmetry.h"

namespace hobble {

/// Adds to the evidence of each joint; y is up. `words` is what names say, for where the head is.
void addPlace(const Skeleton& skeleton, const MirrorPlane& plane, const std::vector<char>& movesSkin,
              const std::vector<LabelScores>& words, std::vector<LabelScores>& evidence);

} // namespace hobble
