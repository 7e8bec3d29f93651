#pragma once
// The pose in which what Intake found shows: a fault of weights is nothing to be seen in neutral.
#include "core/measure/subject.h"
#include "core/pose/motion.h"

#include <optional>

namespace hobble {

struct TellingPose {
    int motion = -1;  // of the plan, at its limit
    double shows = 0; // how far skin parts from, or closes in on, what it lies beside in neutral: body
                      // heights, root mean square; 0 where only the joint was known
};

/// Of the plan's motions at their limits, the one in which the marked skin (vertices of the file) parts most
/// from its neighbours on the surface, from skin at the same place, or, where it has none that is not marked,
/// from what lies nearest. Of those that show it nearly as well, the simplest. Where it shows nowhere, or
/// nothing is marked: the widest motion that `joint` leads; nothing where there is none. By linear skinning
/// with drivers, without shapes. Our own: what a rigger looks for is where the skin comes apart.
std::optional<TellingPose> tellingPose(const Subject& subject, const Plan& plan,
                                       const std::vector<std::uint32_t>& marked, int joint,
                                       const Progress& progress = {});

} // namespace hobble
