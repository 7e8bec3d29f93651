#include "core/pose/clip_frames.h"
#include "core/words/say.h"

#include <algorithm>
#include <cmath>

namespace hobble {

std::vector<FrameStress> frameStress(const std::vector<JointRange>& ranges, const std::vector<Pose>& poses) {
    std::vector<FrameStress> out;
    for (const Pose& p : poses) {
        FrameStress s;
        for (std::size_t j = 0; j < ranges.size(); ++j) {
            if (!ranges[j].known)
                continue;
            const double share = shareOf(ranges[j], p.turn[j]), past = beyond(ranges[j], p.turn[j]);
            if (share > s.share) {
                s.share = share;
                s.joint = static_cast<int>(j);
            }
            if (past > s.beyond) {
                s.beyond = past;
                s.beyondJoint = static_cast<int>(j);
            }
        }
        out.push_back(s);
    }
    return out;
}

std::vector<std::size_t> mostStressful(const std::vector<JointRange>& ranges, const std::vector<Pose>& poses,
                                       std::size_t count, double allowed) {
    // Six directions a joint: how near a frame brings each to its limit. Only what is planned counts.
    const std::size_t wide = 6 * ranges.size();
    std::vector<float> near(poses.size() * wide, 0.f);
    std::vector<char> usable(poses.size(), 1);
    for (std::size_t i = 0; i < poses.size(); ++i)
        for (std::size_t j = 0; j < ranges.size(); ++j) {
            const JointRange& r = ranges[j];
            if (!r.known)
                continue;
            if (beyond(r, poses[i].turn[j]) > allowed)
                usable[i] = 0;
            const Vec3d a = anglesIn(r, poses[i].turn[j]);
            for (std::size_t k = 0; k < 3; ++k) {
                const double x = a[static_cast<Eigen::Index>(k)];
                const bool up = x > 0;
                if ((up ? r.mostMotion : r.leastMotion)[k] < 0)
                    continue;
                const double limit = up ? r.most[k] : -r.least[k];
                if (limit > 1)
                    near[i * wide + 6 * j + 2 * k + (up ? 0 : 1)] =
                        static_cast<float>(std::min(std::abs(x) / limit, 1.5));
            }
        }
    std::vector<float> reached(wide, 0.35f); // what turns less than that stresses nothing
    std::vector<std::size_t> out;
    while (out.size() < count) {
        double best = 0.05;
        std::size_t at = poses.size();
        for (std::size_t i = 0; i < poses.size(); ++i) {
            if (!usable[i])
                continue;
            double gain = 0;
            for (std::size_t k = 0; k < wide; ++k)
                gain += std::max(0.f, near[i * wide + k] - reached[k]);
            if (gain > best) {
                best = gain;
                at = i;
            }
        }
        if (at == poses.size())
            break;
        out.push_back(at);
        usable[at] = 0;
        for (std::size_t k = 0; k < wide; ++k)
            reached[k] = std::max(reached[k], near[at * wide + k]);
    }
    std::sort(out.begin(), out.end());
    return out;
}

namespace {

Motion motionOf(const Character& c, const std::string& name, const std::vector<std::size_t>& frames,
                const std::vector<const Pose*>& poses) {
    Motion m;
    m.name = name;
    m.id = "clip-" + name;
    std::replace(m.id.begin(), m.id.end(), ' ', '-');
    m.limb = Limb::Clips;
    m.span = Span::Frames;
    m.source = "clip";
    std::vector<MotionKey> keys;
    std::vector<double> most(c.skeleton.name.size(), 0);
    std::vector<char> moved(c.skeleton.name.size(), 0);
    for (std::size_t i = 0; i < poses.size(); ++i) {
        keys.push_back({static_cast<double>(i + 1), *poses[i]});
        for (std::size_t j = 0; j < most.size(); ++j) {
            most[j] = std::max(most[j], degrees(Quat::Identity().angularDistance(poses[i]->turn[j])));
            moved[j] |= !poses[i]->shift.empty() && poses[i]->shift[j].norm() > 1e-6;
        }
    }
    std::vector<int> joints;
    for (std::size_t j = 0; j < most.size(); ++j)
        if (most[j] > 2 || moved[j])
            joints.push_back(static_cast<int>(j));
    std::stable_sort(joints.begin(), joints.end(), [&](int a, int b) {
        return most[static_cast<std::size_t>(a)] > most[static_cast<std::size_t>(b)];
    });
    if (joints.empty() && c.skeleton.size() > 0)
        joints.push_back(0);
    for (int j : joints)
        m.turns.push_back({j, Vec3d::UnitX(), 0});
    m.steps.push_back(0);
    for (std::size_t i = 0; i < poses.size(); ++i)
        m.steps.push_back(static_cast<double>(i + 1));
    m.steps.push_back(0);
    m.frames = frames;
    m.keys = std::make_shared<const std::vector<MotionKey>>(std::move(keys));
    return m;
}

} // namespace

std::vector<Motion> clipMotions(const Character& c, const std::vector<JointRange>& ranges,
                                const ChosenFrames& chosen, BeyondPlan beyondPlan, double allowed) {
    const std::vector<FrameStress> stress = frameStress(ranges, chosen.poses);
    std::vector<std::size_t> in, past;
    std::vector<const Pose*> inPoses, pastPoses;
    std::size_t worst = 0;
    for (std::size_t i = 0; i < chosen.poses.size(); ++i) {
        const bool beyondIt = stress[i].beyond > allowed;
        if (beyondIt && (past.empty() || stress[i].beyond > stress[worst].beyond))
            worst = i;
        if (beyondIt && beyondPlan == BeyondPlan::LeaveOut) {
            past.push_back(i);
            continue;
        }
        const bool apart = beyondIt && beyondPlan == BeyondPlan::JudgeApart;
        (apart ? past : in).push_back(chosen.frames[i]);
        (apart ? pastPoses : inPoses).push_back(&chosen.poses[i]);
    }
    std::vector<Motion> out;
    if (!inPoses.empty())
        out.push_back(motionOf(c, chosen.clip, in, inPoses));
    if (!pastPoses.empty()) {
        Motion m = motionOf(c, chosen.clip + " past the plan", past, pastPoses);
        m.beyond = say("The clip drives %s %.0f° past its planned range (frame %zu).",
                       c.skeleton.name[static_cast<std::size_t>(stress[worst].beyondJoint)],
                       stress[worst].beyond, chosen.frames[worst]);
        out.push_back(std::move(m));
    }
    return out;
}

} // namespace hobble
