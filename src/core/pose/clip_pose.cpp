#include "core/pose/clip_pose.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

using Values = Eigen::Matrix<double, Eigen::Dynamic, 1, 0, 4, 1>; // of a joint: without asking for memory

// The channel's value, `n` numbers, at a moment.
template <class Values> Values valueAt(const ClipChannel& ch, int n, double seconds) {
    const bool cubic = ch.blend == ClipChannel::Blend::Cubic;
    const std::size_t each = static_cast<std::size_t>(n) * (cubic ? 3 : 1);
    auto read = [&](std::size_t key, int which) { // which: 0 in-tangent, 1 value, 2 out-tangent
        Values v(n);
        for (int i = 0; i < n; ++i)
            v[i] = ch.value[key * each + (cubic ? static_cast<std::size_t>(which * n) : 0) + i];
        return v;
    };
    const auto after = std::upper_bound(ch.time.begin(), ch.time.end(), static_cast<float>(seconds));
    if (after == ch.time.begin())
        return read(0, 1);
    const std::size_t a = static_cast<std::size_t>(after - ch.time.begin()) - 1;
    if (after == ch.time.end() || ch.blend == ClipChannel::Blend::Step)
        return read(a, 1);
    const double span = ch.time[a + 1] - ch.time[a], t = span > 0 ? (seconds - ch.time[a]) / span : 0;
    const Values from = read(a, 1), to = read(a + 1, 1);
    if (cubic) {
        const double t2 = t * t, t3 = t2 * t;
        return (2 * t3 - 3 * t2 + 1) * from + span * (t3 - 2 * t2 + t) * read(a, 2) + (3 * t2 - 2 * t3) * to +
               span * (t3 - t2) * read(a + 1, 0);
    }
    if (n == 4) {
        const Quat q = Quat(from[3], from[0], from[1], from[2]).slerp(t, Quat(to[3], to[0], to[1], to[2]));
        return q.coeffs();
    }
    return from + t * (to - from);
}

} // namespace

Pose poseAt(const Character& c, const Clip& clip, double seconds) {
    Pose pose = Pose::neutral(c.skeleton);
    std::vector<Quat> rotation(pose.turn.size());
    std::vector<Vec3d> translation(pose.turn.size());
    for (int j = 0; j < c.skeleton.size(); ++j) {
        rotation[j] = rotationOf(c.skeleton.neutralLocal[j]);
        translation[j] = c.skeleton.neutralLocal[j].translation();
    }
    for (const ClipChannel& ch : clip.channels) {
        if (ch.path == ClipChannel::Path::Weights && ch.part >= 0 && !ch.time.empty()) {
            const Part& part = c.parts[static_cast<std::size_t>(ch.part)];
            const auto v = valueAt<Eigen::VectorXd>(ch, static_cast<int>(part.targets.size()), seconds);
            for (std::size_t t = 0; t < part.targets.size(); ++t) {
                const double away =
                    v[static_cast<Eigen::Index>(t)] -
                    (t < part.targetWeights.size() ? static_cast<double>(part.targetWeights[t]) : 0);
                if (std::abs(away) > 1e-6)
                    pose.targets.push_back({ch.part, static_cast<int>(t), away});
            }
            continue;
        }
        if (ch.joint < 0 || ch.time.empty())
            continue;
        if (ch.path == ClipChannel::Path::Rotation) {
            const Values v = valueAt<Values>(ch, 4, seconds);
            if (v.norm() > 1e-6)
                rotation[ch.joint] = Quat(v[3], v[0], v[1], v[2]).normalized();
        } else if (ch.path == ClipChannel::Path::Translation) {
            translation[ch.joint] = valueAt<Values>(ch, 3, seconds);
        }
    }
    for (int j = 0; j < c.skeleton.size(); ++j) {
        const Transform& neutral = c.skeleton.neutralLocal[j];
        pose.turn[j] = rotationOf(neutral).inverse() * rotation[j];
        const Vec3d moved = neutral.linear().inverse() * (translation[j] - neutral.translation());
        if (moved.norm() > 1e-9) {
            pose.shift.resize(pose.turn.size(), Vec3d::Zero());
            pose.shift[j] = moved;
        }
    }
    return pose;
}

} // namespace hobble
