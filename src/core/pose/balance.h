#pragma once
// Would a body in this pose stand? Its centre of volume over what its feet cover: a hint while posing, not a
// simulation. Volume by the divergence theorem over all triangles, told against neutral so that open parts do
// not shift it.
#include "core/character/body.h"
#include "core/pose/pose.h"

namespace hobble {

struct Balance {
    bool known = false;            // there are feet on the ground
    Vec3d centre = Vec3d::Zero();  // world, on the ground
    std::vector<Vec3d> support;    // world, on the ground: the corners of what the feet cover, in order
    double out = 0;                // metres the centre lies outside the support; 0 within
    Vec3d towards = Vec3d::Zero(); // unit, the way it would tip; zero within
};

/// `posed`: world, per vertex of the character.
Balance balanceOf(const Character& character, const std::vector<JointRole>& roles, const BodyFrame& body,
                  const std::vector<Vec3>& posed);

/// "stands", "would tip forward by 6 cm".
std::string wordsFor(const Balance& balance, const BodyFrame& body);

} // namespace hobble
