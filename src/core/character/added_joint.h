#pragma once
// A joint added to a character, and what it is called so that it stands among its neighbours.
#include "core/character/character.h"

namespace hobble {

/// Its number: the last. It holds nothing yet, and neutral looks as before. `world`: neutral; `parent` −1 at
/// a root.
int addJoint(Character& character, const std::string& name, int parent, const Transform& world);

/// A name like a joint's own with a word put in, before what says its side: "forearm.R" and "twist 1" make
/// "forearm_twist_1.R", "r_forearm" makes "r_forearm_twist_1". One that is not there yet.
std::string nameBeside(const Skeleton& skeleton, const std::string& name, const std::string& word);

} // namespace hobble
