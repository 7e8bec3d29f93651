#pragma once
// Whether the motions of a plan go the way they are called, told by where the skin goes: "down" goes down, a
// finger curls towards its palm, a knee brings the foot back.
#include "zoo/zoo.h"

#include <string>
#include <vector>

namespace hobble::zoo {

struct Ways {
    int asked = 0, right = 0;       // motions with a way in their name
    int joints = 0, planned = 0;    // joints that move skin; those that a motion of their own role turns
    double leastCoverage = 1;       // of the bodies added
    std::vector<std::string> wrong; // motions that go another way, in words
    double share() const { return asked ? static_cast<double>(right) / asked : 1; }
    double plannedShare() const { return joints ? static_cast<double>(planned) / joints : 1; }
    void add(const Ways& other);
};

/// Of the plan made for a body under names that say what its joints are.
Ways waysOf(const Body& body, const Convention& convention);

} // namespace hobble::zoo
