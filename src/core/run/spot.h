#pragma once
// One spot of the skin: what moves it, and the motions in which it fares worst.
#include "core/run/run.h"

namespace hobble {

struct SpotInfluence {
    int joint = -1;
    double share = 0; // 0 … 1
    int bones = 0;    // from the joint that holds most of the spot
};

/// Of a vertex of the file, heaviest first.
std::vector<SpotInfluence> influencesAt(const Subject& subject, std::uint32_t fileVertex);

struct SpotMotion {
    int motion = -1;           // of the plan
    double at = 0;             // in the unit of the motion
    Kind kind = Kind::Stretch; // or squash
    double value = 1;
    double trouble = 0; // 1 is the first limit of the motion's leading joint
};

/// From what was measured; motions that are not in the store are left out. Worst first, at most `most`.
std::vector<SpotMotion> worstMotionsAt(const Subject& subject, const Plan& plan, Skinning method,
                                       const Limits& limits, MeasuredStore& store, std::uint32_t fileVertex,
                                       std::size_t most = 3);

} // namespace hobble
