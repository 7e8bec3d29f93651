#pragma once
// The badger postmaster of the Saltmarsh Post: a stout biped with collarbones, three fingers and a thumb, jaw
// and tail; cap, satchel, eyes and nose as rigid parts. Forearms have no twist joint, and the weights are a
// plain blend by distance, so that linear skinning shows its usual faults.
#include "core/character/character.h"

namespace hobble::demo {

Character badgerPostmaster();

} // namespace hobble::demo
