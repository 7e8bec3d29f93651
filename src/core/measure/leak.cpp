#include "core/measure/leak.h"

#include <algorithm>

namespace hobble {

std::vector<std::uint32_t> outsideZones(const Subject& s, const Motion& motion, const MotionRegion& region) {
    std::vector<char> within(s.surface.vertexCount(), 0);
    for (const JointTurn& t : motion.turns)
        for (std::uint32_t v : s.zones[t.joint].vertices)
            within[v] = 1;
    std::vector<std::uint32_t> out;
    for (std::uint32_t i = 0; i < region.vertices.size(); ++i)
        if (const std::uint32_t v = region.vertices[i]; !region.shaped[v] && !within[v])
            out.push_back(i);
    return out;
}

void leaks(const Subject& s, const Motion& motion, const MotionRegion& region,
           const std::vector<std::uint32_t>& outside, const std::vector<Transform>& world,
           const std::vector<Vec3>& posed, std::vector<float>& out) {
    out.assign(region.vertices.size(), 0.f);
    std::vector<Eigen::Affine3f> rigid; // from neutral to posed
    for (const JointTurn& t : motion.turns)
        rigid.push_back(
            (world[t.joint] * s.character->skeleton.neutralWorld[t.joint].inverse()).cast<float>());
    for (std::uint32_t i : outside) {
        const std::uint32_t v = region.vertices[i];
        float least = (posed[v] - s.neutral[v]).norm();
        for (const auto& r : rigid)
            least = std::min(least, (posed[v] - r * s.neutral[v]).norm());
        out[i] = least;
    }
}

} // namespace hobble
