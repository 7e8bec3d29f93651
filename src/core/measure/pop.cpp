#include "core/measure/pop.h"

#include <algorithm>

namespace hobble {

namespace {

// Positions of the region's vertices with their share of the turning undone.
std::vector<Vec3> stilled(const Subject& s, const Motion& motion, const MotionRegion& r, double degrees,
                          const std::vector<Vec3>& at) {
    std::vector<Vec3> out = at;
    for (std::size_t k = 0; k < motion.turns.size(); ++k) {
        const JointTurn& t = motion.turns[k];
        const Transform& joint = s.character->skeleton.neutralWorld[t.joint];
        const Vec3 axis = (rotationOf(joint) * t.axis).cast<float>(),
                   pivot = joint.translation().cast<float>();
        for (std::size_t i = 0; i < out.size(); ++i) {
            const float back = -static_cast<float>(radians(degrees * t.share)) * r.follow[k][r.vertices[i]];
            out[i] = pivot + Eigen::AngleAxisf(back, axis) * (out[i] - pivot);
        }
    }
    return out;
}

float farthest(const std::vector<Vec3>& a, const std::vector<Vec3>& b, std::vector<float>* each = nullptr) {
    float most = 0;
    if (each)
        each->resize(a.size());
    for (std::size_t i = 0; i < a.size(); ++i) {
        const float d = (a[i] - b[i]).norm();
        most = std::max(most, d);
        if (each)
            (*each)[i] = d;
    }
    return most;
}

} // namespace

std::vector<Pop> pops(const Subject& s, const Motion& motion, const MotionRegion& region, Skinning method,
                      const std::vector<std::vector<Vec3>>& paths, double least) {
    std::vector<Pop> out;
    if (paths.size() < 3 || s.character->drivers.empty())
        return out; // skinning alone never kicks
    std::vector<std::vector<Vec3>> still;
    for (std::size_t k = 0; k < paths.size(); ++k)
        still.push_back(stilled(s, motion, region, motion.steps[k], paths[k]));
    std::vector<float> gone;
    for (std::size_t k = 0; k + 1 < still.size(); ++k)
        gone.push_back(farthest(still[k], still[k + 1]));
    auto posedAt = [&](double degrees) {
        std::vector<Vec3> all, at;
        deform(*s.character, poseAt(s.character->skeleton, motion, degrees), method, all);
        for (std::uint32_t v : region.vertices)
            at.push_back(all[s.surface.representative(v)]);
        return stilled(s, motion, region, degrees, at);
    };
    for (std::size_t k = 0; k < gone.size(); ++k) {
        const float beside =
            std::min(k > 0 ? gone[k - 1] : INFINITY, k + 1 < gone.size() ? gone[k + 1] : INFINITY);
        if (gone[k] < 1.2 * least || gone[k] < 1.3f * beside)
            continue;
        double low = motion.steps[k], high = motion.steps[k + 1];
        std::vector<Vec3> a = still[k], b = still[k + 1];
        for (int halving = 0; halving < 4; ++halving) {
            const double middle = (low + high) / 2;
            std::vector<Vec3> m = posedAt(middle);
            if (farthest(a, m) > farthest(m, b)) {
                high = middle;
                b = std::move(m);
            } else {
                low = middle;
                a = std::move(m);
            }
        }
        Pop pop{k, (low + high) / 2, {}, 0};
        farthest(a, b, &pop.metres);
        // A kick is out of proportion to how the skin moves before and after it; even steps of a wide motion,
        // however long, are none.
        constexpr float outOfProportion = 4;
        const float share = static_cast<float>((high - low) / (motion.steps[k + 1] - motion.steps[k]));
        std::vector<float> before, after;
        if (k > 0)
            farthest(still[k - 1], still[k], &before);
        if (k + 2 < still.size())
            farthest(still[k + 1], still[k + 2], &after);
        for (std::size_t i = 0; i < pop.metres.size(); ++i) {
            const float even =
                share * std::max(before.empty() ? 0.f : before[i], after.empty() ? 0.f : after[i]);
            if (pop.metres[i] < outOfProportion * even)
                pop.metres[i] = 0;
            pop.most = std::max(pop.most, pop.metres[i]);
        }
        if (pop.most > least)
            out.push_back(std::move(pop));
    }
    return out;
}

} // namespace hobble
