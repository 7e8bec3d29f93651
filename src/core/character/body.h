#pragma once
// Which way the body stands: up, forward and left, found from legs, feet and the pairing of sides, not from
// the axes of the file; and for each limb the directions its joints may turn in.
#include "core/character/roles.h"

namespace hobble {

struct BodyFrame {
    Vec3d up = Vec3d::UnitY(), forward = Vec3d::UnitZ(),
          left = Vec3d::UnitX();      // right-handed: left × up = forward
    Vec3d upFromLegs = Vec3d::Zero(); // what the legs alone say of up; zero where there are none
    double height = 0; // metres, along up: of the body without what it carries, and as if it stood
    bool quadruped = false;
    std::string basis; // how it was found, in plain words
};

BodyFrame bodyFrame(const Character& character, const std::vector<JointRole>& roles);

/// The roots of what are bodies of their own in one file: trees of joints with skin that share no vertex with
/// another, and more than one of which has a head, or limbs. One body in two trees (a face beside its body)
/// is one.
std::vector<int> rootsOfBodies(const Character& character, const std::vector<JointRole>& roles);

/// Unit vector along the bone of a joint towards its tip: to the next joint of its chain, or failing that to
/// the skin it carries; zero when there is neither.
Vec3d boneDirection(const Character& character, const std::vector<JointRole>& roles, int joint);

/// Angle between the bone above a joint and its own, radians: 0 is a straight limb. `axis` receives the unit
/// axis about which turning further closes the joint, zero for a straight limb.
double neutralBend(const Character& character, const std::vector<JointRole>& roles, int joint, Vec3d& axis);

/// Unit vector out of the palm of a hand (the side its fingers close to).
Vec3d palmDirection(const Character& character, const std::vector<JointRole>& roles, const BodyFrame& body,
                    int wrist);

} // namespace hobble
