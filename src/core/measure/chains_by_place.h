#pragma once
// What joints of a skeleton that lies flat are, read from the chains that skin and places show: offered to a
// person as corrections, for the tree itself can only be mended where it was made.
#include "core/measure/subject.h"

namespace hobble {

/// By joint name, those that the chains say something else of than what is known; empty where the tree is a
/// tree.
std::map<std::string, RoleCorrection> rolesOfChains(const Subject& subject);

} // namespace hobble
