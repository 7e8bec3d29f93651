#pragma once
// The pack goat of the Saltmarsh Post: a quadruped with hocks and fetlocks, a belly that folds, ears, tail
// and horns; panniers ride on a harness.
#include "core/character/character.h"

namespace hobble::demo {

Character packGoat();

} // namespace hobble::demo
