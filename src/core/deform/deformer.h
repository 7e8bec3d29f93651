#pragma once
// Where the skin goes: drivers, then shape targets, then skinning, then smoothing.
#include "core/deform/skinning.h"
#include "core/deform/weight_lanes.h"
#include "core/pose/drive.h"

#include <string>

namespace hobble {

/// Linear blend skinning of one character (Magnenat-Thalmann, Laperrière, Thalmann 1988, "Joint-Dependent
/// Local Deformations for Hand Animation and Object Grasping"; glTF 2.0, section 3.7.3, Skins), in vector
/// registers where the machine has them. `bind` has one position per vertex in the skin's space; `out` is
/// resized to one world position per vertex, metres. Normals, when asked for, are turned by the same matrices
/// and not made unit again.
void deformLinear(const Character& character, const WeightLanes& lanes, const std::vector<Transform>& world,
                  const std::vector<Vec3>& bind, std::vector<Vec3>& out,
                  const std::vector<Vec3>* bindNormals = nullptr, std::vector<Vec3>* normals = nullptr);

/// The same, as its definition reads: what the fast one is tested against.
void deformLinearPlain(const Character& character, const std::vector<Transform>& world,
                       const std::vector<Vec3>& bind, std::vector<Vec3>& out);

/// Dual quaternion skinning (Kavan, Collins, Žára, O'Sullivan 2008, "Geometric Skinning with Approximate Dual
/// Quaternion Blending"). Joint scale cannot be represented; it is dropped about the joint. `neutral` has one
/// world position per vertex.
void deformDualQuaternion(const Character& character, const std::vector<Transform>& world,
                          const std::vector<Vec3>& neutral, std::vector<Vec3>& out);

/// The same mixed into positions that are skinned already: by `share` of each vertex, where it is above 0
/// (the same paper, section 5: methods may be mixed from vertex to vertex).
void mixDualQuaternion(const Character& character, const std::vector<Transform>& world,
                       const std::vector<Vec3>& neutral, const std::vector<float>& share,
                       std::vector<Vec3>& out);

/// Adds shape targets to bind positions (glTF 2.0, section 3.7.2.2, Morph Targets), or to neutral ones when
/// `placed`.
void addTargets(const Character& character, const std::vector<TargetWeight>& targets, bool placed,
                std::vector<Vec3>& positions);

/// The whole of it, Character::extras among it. `lanes` are the character's weights made ready, where they
/// are at hand.
void deform(const Character& character, const Driven& driven, Skinning method, std::vector<Vec3>& out,
            const WeightLanes* lanes = nullptr);
void deform(const Character& character, const Pose& pose, Skinning method, std::vector<Vec3>& out);

/// Posed vertices of the neutral pose; fills Character::neutral once the skeleton and skins are known.
std::vector<Vec3> neutralPositions(const Character& character);

} // namespace hobble
