#pragma once
// A joint put elsewhere or turned in its own axes, while the skin in neutral and the joints that hang from it
// stay where they are.
#include "core/character/character.h"

namespace hobble {

/// `world`: of the joint, neutral. An empty group that lies on it goes with it. Inverse bind matrices follow,
/// so that neutral looks as before; what drivers watch it by, and turn it about, are the same directions as
/// before.
void moveJoint(Character& character, int joint, const Transform& world);

} // namespace hobble
