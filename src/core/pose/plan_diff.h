#pragma once
// What one plan has that another has not.
#include "core/pose/motion.h"

namespace hobble {

struct PlanChange {
    enum class What { Added, Removed, Range, Steps, SwitchedOn, SwitchedOff, Pose };
    What what;
    std::string motion; // its id
    std::string words;  // "left elbow flex goes to 120° instead of 150°"
};

std::vector<PlanChange> planChanges(const Plan& before, const Plan& after);

} // namespace hobble
