#pragma once
// Builds with what no recipe plants, made by hand for the manual's pictures: each shows one thing, a check of
// Intake or a cause.
#include "core/character/character.h"

#include <string>
#include <vector>

namespace hobble::demo {

struct OddBuild {
    std::string shows; // "check-unmerged-vertices", "cause-bound-without-a-blend"
    Character character;
};

/// `badger`: the postmaster, as it is delivered at last; `other`: who comes with it in one file.
std::vector<OddBuild> oddBuilds(const Character& badger, const Character& other);

} // namespace hobble::demo
