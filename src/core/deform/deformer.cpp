#include "core/deform/deformer.h"

namespace hobble {

void deform(const Character& c, const Driven& driven, Skinning method, std::vector<Vec3>& out,
            const WeightLanes* lanes) {
    const bool linear = method == Skinning::Linear;
    const std::vector<Vec3>* rest = linear ? &c.bindPosition.vector() : &c.neutral.vector();
    std::vector<Vec3> shaped;
    if (!driven.targets.empty()) {
        shaped = *rest;
        addTargets(c, driven.targets, !linear, shaped);
        rest = &shaped;
    }
    if (linear)
        deformLinear(c, lanes ? *lanes : weightLanes(c.weights), driven.world, *rest, out);
    else
        deformDualQuaternion(c, driven.world, *rest, out);
}

void deform(const Character& character, const Pose& pose, Skinning method, std::vector<Vec3>& out) {
    deform(character, drive(character, pose), method, out);
}

std::vector<Vec3> neutralPositions(const Character& character) {
    std::vector<Vec3> out;
    deformLinear(character, weightLanes(character.weights), character.skeleton.neutralWorld,
                 character.bindPosition, out);
    return out;
}

const char* nameOf(Skinning method) { return method == Skinning::Linear ? "linear" : "dual-quaternion"; }

} // namespace hobble
