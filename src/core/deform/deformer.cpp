#include "core/deform/deformer.h"

namespace hobble {

void deform(const Character& character, const std::vector<Transform>& world, Skinning method,
            std::vector<Vec3>& out) {
    if (method == Skinning::Linear)
        deformLinear(character, world, out);
    else
        deformDualQuaternion(character, world, out);
}

void deform(const Character& character, const Pose& pose, Skinning method, std::vector<Vec3>& out) {
    deform(character, worldTransforms(character.skeleton, pose), method, out);
}

std::vector<Vec3> neutralPositions(const Character& character) {
    std::vector<Vec3> out;
    deformLinear(character, character.skeleton.neutralWorld, out);
    return out;
}

const char* nameOf(Skinning method) { return method == Skinning::Linear ? "linear" : "dual-quaternion"; }

} // namespace hobble
