#pragma once
// Test clips: warm-up, reach, crouch and jump (for a face: words and looks), with a few frames beyond the
// plan's limits on purpose, so that a clip's fault is not blamed on the character.
#include "core/character/character.h"

namespace hobble::demo {

Clip bipedClip(const Character& character);
Clip quadrupedClip(const Character& character);
Clip faceClip(const Character& character);

/// The same skeleton with long thin limbs, standing with its arms straight out: who the last clip was made
/// for.
Character longLimbed(const Character& biped);

} // namespace hobble::demo
