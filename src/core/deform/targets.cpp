#include "core/deform/deformer.h"

namespace hobble {

void addTargets(const Character& c, const std::vector<TargetWeight>& targets, bool placed,
                std::vector<Vec3>& p) {
    for (const TargetWeight& t : targets) {
        const Part& part = c.parts[t.part];
        const ShapeTarget& target = part.targets[t.target];
        Eigen::Matrix3f turn = Eigen::Matrix3f::Identity();
        if (placed && part.skin >= 0) // every joint of a skin places it alike in the neutral pose
            for (int j = 0; j < c.skeleton.size(); ++j)
                if (c.skins[part.skin].bound[j]) {
                    turn = (c.skeleton.neutralWorld[j] * c.skins[part.skin].inverseBind[j])
                               .linear()
                               .cast<float>();
                    break;
                }
        turn *= static_cast<float>(t.weight);
        for (std::size_t i = 0; i < target.vertex.size(); ++i)
            p[part.firstVertex + target.vertex[i]] += turn * target.delta[i];
    }
}

} // namespace hobble
