#include "core/measure/leak.h"

#include <algorithm>

namespace hobble {

void leaks(const Subject& s, const Motion& motion, const MotionRegion& region,
           const std::vector<Transform>& world, const std::vector<Vec3>& posed, std::vector<float>& out) {
    out.assign(region.vertices.size(), 0.f);
    std::vector<Eigen::Affine3f> rigid; // from neutral to posed
    for (const JointTurn& t : motion.turns)
        rigid.push_back(
            (world[t.joint] * s.character->skeleton.neutralWorld[t.joint].inverse()).cast<float>());
    for (std::size_t i = 0; i < region.vertices.size(); ++i) {
        const std::uint32_t v = region.vertices[i];
        bool inside = region.shaped[v] != 0;
        for (const JointTurn& t : motion.turns)
            inside = inside || s.zones[t.joint].holds(v);
        if (inside)
            continue;
        float least = (posed[v] - s.neutral[v]).norm();
        for (const auto& r : rigid)
            least = std::min(least, (posed[v] - r * s.neutral[v]).norm());
        out[i] = least;
    }
}

} // namespace hobble
