#pragma once
// The lighthouse newt of the Saltmarsh Post, keeper of the lamp: a face and neck. Jaw, lips, brows, lids and
// tongue; shape targets for vowels, blink and smile; teeth behind the lips; a keeper's cap, and a knitted
// collar.
#include "core/character/character.h"

namespace hobble::demo {

Character lighthouseNewt();

} // namespace hobble::demo
