#pragma once
// The words of all joints' names, understood together: what all names share says nothing and is taken off;
// words run together are cut where they are made of known ones only; a misspelt, shortened or foreign word is
// taken for the one it stands for, the latter only where several of its kind are there.
#include "core/character/character.h"

namespace hobble {

/// Per joint, in English, lower case; words nobody knows as they are.
std::vector<std::vector<std::string>> skeletonWords(const Skeleton& skeleton);

/// Per joint, whether its name says that it only marks the end of a chain ("hand_end"), whatever it is.
std::vector<char> endsByName(const Skeleton& skeleton);

} // namespace hobble
