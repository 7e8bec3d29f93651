#include "core/deform/deformer.h"

#include "core/deform/detail_smoothing.h"

#include <algorithm>
#include <utility>

namespace hobble {

void deform(const Character& c, const Driven& driven, Skinning method, std::vector<Vec3>& out,
            const WeightLanes* lanes) {
    const auto shaped = [&](const std::vector<Vec3>& rest, bool placed, std::vector<Vec3>& into) {
        if (driven.targets.empty())
            return &rest;
        into = rest;
        addTargets(c, driven.targets, placed, into);
        return &std::as_const(into);
    };
    std::vector<Vec3> scratch;
    std::vector<float> dual; // per vertex, where it is not all alike
    for (const DualShare& share : c.extras.dualShare)
        dual.push_back(method == Skinning::Linear ? share.ofLinear : share.ofDual);
    if (method == Skinning::DualQuaternion &&
        std::all_of(dual.begin(), dual.end(), [](float share) { return share >= 1; })) {
        deformDualQuaternion(c, driven.world, *shaped(c.neutral, true, scratch), out);
    } else {
        deformLinear(c, lanes ? *lanes : weightLanes(c.weights), driven.world,
                     *shaped(c.bindPosition, false, scratch), out);
        if (!dual.empty())
            mixDualQuaternion(c, driven.world, *shaped(c.neutral, true, scratch), dual, out);
    }
    for (const auto& after : c.extras.smoothing)
        after->smooth(out);
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
