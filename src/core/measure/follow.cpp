#include "core/measure/follow.h"

#include <algorithm>
#include <cmath>

namespace hobble {

std::vector<float> followShares(const Character& c, int joint, const Vec3d* axis) {
    const auto below = c.skeleton.subtree(joint);
    std::vector<float> out(below.begin(), below.end());
    const auto& neutral = c.skeleton.neutralWorld;
    for (const Driver& d : c.drivers) {
        if (d.output != Driver::Output::Turn || out[d.source] <= 0)
            continue;
        if (axis && d.source == joint && d.poses.empty() && std::abs(d.about.dot(*axis)) < 0.5)
            continue;
        if (below[d.joint]) { // it goes along anyway; a twist joint that turns back takes some of that away
            const bool back =
                driverSlope(d) *
                    (rotationOf(neutral[d.joint]) * d.along).dot(rotationOf(neutral[d.source]) * d.about) <
                0;
            if (d.source == joint && back)
                out[d.joint] = static_cast<float>(std::clamp(1 - std::abs(driverSlope(d)), 0.0, 1.0));
            continue;
        }
        const auto share = static_cast<float>(std::clamp(std::abs(driverSlope(d)), 0.0, 1.0)) * out[d.source];
        const auto with = c.skeleton.subtree(d.joint);
        for (std::size_t k = 0; k < with.size(); ++k)
            if (with[k] && !below[k])
                out[k] = std::max(out[k], share);
    }
    return out;
}

std::vector<float> following(const Surface& s, const std::vector<float>& shares) {
    std::vector<float> out(s.vertexCount(), 0.f);
    for (std::uint32_t v = 0; v < out.size(); ++v)
        out[v] = followingAt(s.weights, v, shares);
    return out;
}

} // namespace hobble
