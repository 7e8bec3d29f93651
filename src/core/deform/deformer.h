#pragma once
// Where the skin goes: shape targets, then skinning. Later stages (drivers, smoothing) chain on here.
#include "core/pose/pose.h"

#include <string>

namespace hobble {

enum class Skinning { Linear, DualQuaternion };

/// Linear blend skinning of one character (Magnenat-Thalmann, Laperrière, Thalmann 1988, "Joint-Dependent
/// Local Deformations for Hand Animation and Object Grasping"; glTF 2.0, section 3.7.3, Skins). `out` is
/// resized to one world position per vertex, metres.
void deformLinear(const Character& character, const std::vector<Transform>& world, std::vector<Vec3>& out);

/// Dual quaternion skinning (Kavan, Collins, Žára, O'Sullivan 2008, "Geometric Skinning with Approximate Dual
/// Quaternion Blending"). Joint scale cannot be represented; it is dropped about the joint.
void deformDualQuaternion(const Character& character, const std::vector<Transform>& world,
                          std::vector<Vec3>& out);

void deform(const Character& character, const std::vector<Transform>& world, Skinning method,
            std::vector<Vec3>& out);
void deform(const Character& character, const Pose& pose, Skinning method, std::vector<Vec3>& out);

/// Posed vertices of the neutral pose; fills Character::neutral once the skeleton and skins are known.
std::vector<Vec3> neutralPositions(const Character& character);

const char* nameOf(Skinning method); // "linear", "dual-quaternion"

} // namespace hobble
