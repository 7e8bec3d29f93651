#pragma once
// What follows by itself when a joint turns: twist joints that share a roll, helper joints, and shape targets
// that fade in over an angle. They come with the build and are evaluated in every pose.
#include "core/geometry.h"

#include <string>
#include <vector>

namespace hobble {

struct DriverKey {
    double degrees = 0; // of the source joint about the driver's axis
    double out = 0;     // degrees, metres or target weight
};

struct Driver {
    enum class Output { Turn, Shift, Target };
    std::string name;
    int source = -1;              // the joint that is watched
    Vec3d about = Vec3d::UnitX(); // unit, in the source's own neutral frame
    std::vector<DriverKey> keys;  // rising degrees; linear in between, held outside
    Output output = Output::Turn;
    int joint = -1; // Turn, Shift: what follows
    Vec3d along =
        Vec3d::UnitX(); // unit, in that joint's own neutral frame: the axis turned about or shifted along
    int part = -1, target = -1; // Target: a shape target of a part
};

/// What a driver gives at an angle.
double driverOut(const Driver& driver, double degrees);

/// Output per degree between the first and the last key: the share a twist joint takes.
double driverSlope(const Driver& driver);

/// Orders drivers so that a joint is driven before it drives. Those that drive themselves in a circle are
/// taken out, and their names returned.
std::vector<std::string> orderDrivers(std::vector<Driver>& drivers);

} // namespace hobble
