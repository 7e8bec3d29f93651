#pragma once
// Two arms that mirror each other, on a chest: what a fault of one side is told by.
#include "support/tube.h"

#include <functional>

namespace hobble::test {

/// Joints: 0 chest, then upper_arm, forearm, hand of the left (1 … 3) and of the right (4 … 6). Each arm is a
/// tube of radius 0.1 along +Y from −0.8 to 0.8, its elbow at y = 0, its hand's joint at 0.6, at x = ±1.
inline constexpr int kLeftElbow = 2, kRightElbow = 5;
using Influences = std::vector<std::pair<int, double>>;

struct ArmVertex {
    bool left = true;
    Vec3d at = Vec3d::Zero(); // as on the left arm, measured from its middle
    int upper = 1, fore = 2, hand = 3;
};

/// The weights an arm is bound with: upper arm to forearm over y = −half … +half.
Influences plainArm(const ArmVertex& v, double half = 0.2);

struct ArmsSpec {
    int sides = 24, rings = 64;
    std::function<Influences(const ArmVertex&)> weights = [](const ArmVertex& v) { return plainArm(v); };
    std::function<Vec3d(const Vec3d&)> place = [](const Vec3d& at) { return at; }; // along each arm
    Vec3d leftElbowOff = Vec3d::Zero(); // how far the left elbow lies from where it belongs
};

Character arms(const ArmsSpec& spec = {});

} // namespace hobble::test
