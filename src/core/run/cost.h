#pragma once
// What a run will take, said before it is started.
#include "core/measure/subject.h"
#include "core/pose/motion.h"

namespace hobble {

struct RunCost {
    std::size_t motions = 0, poses = 0; // without those that refining adds
    double seconds = 0;
};

/// `secondsPerPose`: the pace of an earlier run on this machine; 0 when there is none, and a usual one is
/// taken from the character's size.
RunCost runCost(const Subject& subject, const Plan& plan, double secondsPerPose = 0);

/// "93 motions, 766 poses, about 2 s"
std::string wordsFor(const RunCost& cost);

} // namespace hobble
