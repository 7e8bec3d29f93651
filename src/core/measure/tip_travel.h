#pragma once
// Tip travel: which way a hinge's tip goes when its joint turns about the axis its fellows turn about,
// against the way its flesh bends. Fellows are its mirror and the other joints of its chain. Degrees: 0 as it
// should, 90 sideways.
#include "core/measure/subject.h"
#include "core/pose/motion.h"

namespace hobble {

struct TipTravel {
    int motion = -1; // of the plan
    int joint = -1;
    double degrees = 0;
    std::string against; // the fellow it disagrees with, in its own name
};

/// One for each flexing motion of a finger, thumb, toe, elbow or knee that has a fellow to be compared with.
std::vector<TipTravel> tipTravels(const Subject& subject, const Plan& plan);

} // namespace hobble
