#include "core/pose/test_clip.h"

#include "core/pose/drive.h"
#include "core/pose/plan_diff.h"

#include <cmath>

namespace hobble {

namespace {

// Local places of the joints and weights of the targets, key by key.
struct Keys {
    std::vector<float> time;
    std::vector<std::vector<Quat>> rotation; // per key, per joint
    std::vector<std::vector<Vec3d>> translation;
    std::vector<std::vector<double>> weights; // per key, of all parts' targets in turn
};

} // namespace

Clip testClip(const Character& c, const Plan& plan, const TestClipOptions& options) {
    Clip clip;
    clip.name = plan.name.empty() ? "range of motion" : plan.name;
    const Skeleton& sk = c.skeleton;
    std::vector<std::size_t> firstTarget;
    std::size_t targets = 0;
    for (const Part& p : c.parts) {
        firstTarget.push_back(targets);
        targets += p.targets.size();
    }
    Keys keys;
    int frame = 0;
    const auto key = [&](const Pose& pose, const std::string& name, const std::string& motion, double at) {
        const auto seconds = static_cast<float>(frame / options.framesPerSecond);
        keys.time.push_back(seconds);
        clip.marks.push_back({seconds, name, motion, at});
        const Driven driven = drive(c, pose);
        std::vector<Quat> rotation;
        std::vector<Vec3d> translation;
        for (std::size_t j = 0; j < driven.world.size(); ++j) {
            const int p = sk.parent[j];
            const Transform local =
                p < 0 ? driven.world[j]
                      : Transform(driven.world[static_cast<std::size_t>(p)].inverse() * driven.world[j]);
            Quat q = rotationOf(local);
            if (!keys.rotation.empty() && q.dot(keys.rotation.back()[j]) < 0)
                q.coeffs() = -q.coeffs(); // the shorter way between two keys
            rotation.push_back(q);
            translation.push_back(local.translation());
        }
        std::vector<double> weights(targets, 0);
        for (const TargetWeight& t : driven.targets)
            weights[firstTarget[static_cast<std::size_t>(t.part)] + static_cast<std::size_t>(t.target)] +=
                t.weight;
        keys.rotation.push_back(std::move(rotation));
        keys.translation.push_back(std::move(translation));
        keys.weights.push_back(std::move(weights));
    };
    const Pose neutral = Pose::neutral(sk);
    key(neutral, "neutral", "", 0);
    for (const Motion& m : plan.motions) {
        if (!m.on)
            continue;
        bool first = true;
        for (double at : m.steps) {
            if (first && at == 0) { // the neutral that the motion before ended with
                first = false;
                continue;
            }
            first = false;
            frame += options.framesPerStep;
            key(poseAt(sk, m, at), at == 0 ? "neutral" : wordsFor(m) + " " + wordsFor(m, at), m.id, at);
        }
        if (clip.marks.back().at != 0) {
            frame += options.framesPerStep;
            key(neutral, "neutral", m.id, 0);
        }
        frame += options.rest;
        key(neutral, "neutral", "", 0);
    }
    clip.seconds = keys.time.back();

    for (std::size_t j = 0; j < sk.name.size(); ++j) {
        ClipChannel turn, move;
        turn.joint = move.joint = static_cast<int>(j);
        turn.path = ClipChannel::Path::Rotation;
        move.path = ClipChannel::Path::Translation;
        turn.time = move.time = keys.time;
        bool turns = false, moves = false;
        for (std::size_t k = 0; k < keys.time.size(); ++k) {
            const Quat& q = keys.rotation[k][j];
            const Vec3d& t = keys.translation[k][j];
            turns |= q.angularDistance(keys.rotation[0][j]) > 1e-6;
            moves |= (t - keys.translation[0][j]).norm() > 1e-7;
            for (double x : {q.x(), q.y(), q.z(), q.w()})
                turn.value.push_back(static_cast<float>(x));
            for (double x : t)
                move.value.push_back(static_cast<float>(x));
        }
        if (turns)
            clip.channels.push_back(std::move(turn));
        if (moves)
            clip.channels.push_back(std::move(move));
    }
    for (std::size_t p = 0; p < c.parts.size(); ++p) {
        const std::size_t n = c.parts[p].targets.size();
        ClipChannel fade;
        fade.path = ClipChannel::Path::Weights;
        fade.part = static_cast<int>(p);
        fade.time = keys.time;
        bool fades = false;
        for (std::size_t k = 0; k < keys.time.size(); ++k)
            for (std::size_t t = 0; t < n; ++t) {
                const double w = keys.weights[k][firstTarget[p] + t];
                fades |= std::abs(w - keys.weights[0][firstTarget[p] + t]) > 1e-6;
                fade.value.push_back(static_cast<float>(w));
            }
        if (fades)
            clip.channels.push_back(std::move(fade));
    }
    return clip;
}

} // namespace hobble
