#include "core/measure/limb_middle.h"

#include "core/measure/subject.h"

namespace hobble {

std::optional<Vec3d> loopMiddle(const std::vector<EdgePoint>& loop, const std::vector<Vec3>& positions) {
    std::vector<Vec3d> p;
    for (const EdgePoint& e : loop)
        p.push_back(((1 - e.t) * positions[e.a] + e.t * positions[e.b]).cast<double>());
    Vec3d middle = Vec3d::Zero();
    double round = 0;
    for (std::size_t i = 0; i < p.size(); ++i) {
        const Vec3d& next = p[(i + 1) % p.size()];
        const double length = (next - p[i]).norm();
        middle += 0.5 * length * (p[i] + next);
        round += length;
    }
    return round > 0 ? std::optional<Vec3d>(middle / round) : std::nullopt;
}

std::optional<Vec3d> limbMiddle(const Subject& s, int joint, const Vec3d& place) {
    const JointZone& zone = s.zones[static_cast<std::size_t>(joint)];
    std::optional<Vec3d> nearest;
    for (const auto& loop :
         planeCut(s.surface, zone.shellTriangles.empty() ? zone.triangles : zone.shellTriangles, s.neutral,
                  place, zone.axis))
        if (const auto middle = loopMiddle(loop, s.neutral);
            middle && (!nearest || (*middle - place).norm() < (*nearest - place).norm()))
            nearest = middle;
    return nearest;
}

} // namespace hobble
