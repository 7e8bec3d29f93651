#pragma once
// What follows by itself when a joint turns: twist joints that share a roll, helper joints, and shape targets
// that fade in over an angle, or near one of several poses of a joint. They come with the build and are
// evaluated in every pose.
#include "core/geometry.h"

#include <string>
#include <vector>

namespace hobble {

struct DriverKey {
    double degrees = 0; // of the source joint about the driver's axis
    double out = 0;     // degrees, metres or target weight
};

/// What is given where the source joint stands exactly so.
struct DriverPose {
    Quat turn = Quat::Identity(); // of the source joint, away from neutral
    double out = 0;
};

struct Driver {
    enum class Output { Turn, Shift, Target };
    std::string name;
    int source = -1;               // the joint that is watched
    Vec3d about = Vec3d::UnitX();  // unit, in the source's own neutral frame
    std::vector<DriverKey> keys;   // rising degrees; linear in between, held outside
    std::vector<DriverPose> poses; // several poses instead of one angle; `about` and `keys` then say nothing
    double width = 0;              // degrees over which a pose's say fades
    std::vector<double> pull;      // per pose; what preparePoses finds
    Output output = Output::Turn;
    int joint = -1; // Turn, Shift: what follows
    Vec3d along =
        Vec3d::UnitX(); // unit, in that joint's own neutral frame: the axis turned about or shifted along
    int part = -1, target = -1; // Target: a shape target of a part
};

/// What a driver of one angle gives at it.
double driverOut(const Driver& driver, double degrees);

/// Radial basis functions over the angle between rotations, Gaussian, through every pose exactly and through
/// 0 at neutral (Lewis, Cordner and Fong 2000, "Pose Space Deformation"). A width of 0 becomes the mean
/// distance from a pose to the nearest other. False where two of the poses are the same, so that there is no
/// such function.
bool preparePoses(Driver& driver);

/// What a driver of poses gives where the joint is turned so.
double posesOut(const Driver& driver, const Quat& turn);

/// Output per degree between the first and the last key: the share a twist joint takes.
double driverSlope(const Driver& driver);

/// Orders drivers so that a joint is driven before it drives. Those that drive themselves in a circle are
/// taken out, and their names returned.
std::vector<std::string> orderDrivers(std::vector<Driver>& drivers);

} // namespace hobble
