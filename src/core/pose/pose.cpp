#include "core/pose/pose.h"

namespace hobble {

Pose Pose::neutral(const Skeleton& skeleton) {
    return {std::vector<Quat>(skeleton.name.size(), Quat::Identity()), {}, {}};
}

Quat turnXyz(double x, double y, double z) {
    return Quat(Eigen::AngleAxisd(radians(x), Vec3d::UnitX()) *
                Eigen::AngleAxisd(radians(y), Vec3d::UnitY()) *
                Eigen::AngleAxisd(radians(z), Vec3d::UnitZ()));
}

std::vector<Transform> worldTransforms(const Skeleton& skeleton, const Pose& pose) {
    std::vector<Transform> world(skeleton.name.size());
    for (int j = 0; j < skeleton.size(); ++j) {
        const int p = skeleton.parent[j];
        Transform local = skeleton.neutralLocal[j];
        const auto at = static_cast<std::size_t>(j);
        if (at < pose.shift.size())
            local.translate(pose.shift[at]);
        if (at < pose.turn.size())
            local.rotate(pose.turn[at]);
        world[j] = p < 0 ? local : world[p] * local;
    }
    return world;
}

} // namespace hobble
