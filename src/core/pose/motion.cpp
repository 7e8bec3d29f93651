#include "core/pose/motion.h"

#include "core/character/hand.h"
#include "core/words/motion_words.h"
#include "core/words/say.h"

#include <algorithm>
#include <cmath>
#include <cstdio>

namespace hobble {

double Motion::limit() const { return steps.empty() ? 0 : *std::max_element(steps.begin(), steps.end()); }

std::size_t Plan::stepCount() const {
    std::size_t n = 0;
    for (const Motion& m : motions)
        n += m.on ? m.steps.size() : 0;
    return n;
}

int Plan::find(const std::string& id) const {
    for (std::size_t m = 0; m < motions.size(); ++m)
        if (motions[m].id == id)
            return static_cast<int>(m);
    const std::string now = presentId(id);
    return now == id ? -1 : find(now);
}

namespace {

Pose blended(const Pose& a, const Pose& b, double t) {
    Pose out = a;
    out.turn.resize(std::max(a.turn.size(), b.turn.size()), Quat::Identity()); // one may know of more joints
    for (std::size_t j = 0; j < b.turn.size(); ++j)
        out.turn[j] = out.turn[j].slerp(t, b.turn[j]);
    for (std::size_t j = b.turn.size(); j < out.turn.size(); ++j)
        out.turn[j] = out.turn[j].slerp(t, Quat::Identity());
    if (!a.shift.empty() || !b.shift.empty()) {
        out.shift.assign(out.turn.size(), Vec3d::Zero());
        for (std::size_t j = 0; j < out.turn.size(); ++j)
            out.shift[j] = (j < a.shift.size() ? Vec3d((1 - t) * a.shift[j]) : Vec3d(Vec3d::Zero())) +
                           (j < b.shift.size() ? Vec3d(t * b.shift[j]) : Vec3d(Vec3d::Zero()));
    }
    for (TargetWeight& w : out.targets)
        w.weight *= 1 - t;
    for (TargetWeight w : b.targets) {
        w.weight *= t;
        out.targets.push_back(w);
    }
    return out;
}

Pose keyedPose(const Skeleton& skeleton, const std::vector<MotionKey>& keys, double at) {
    const auto after =
        std::upper_bound(keys.begin(), keys.end(), at, [](double x, const MotionKey& k) { return x < k.at; });
    if (after == keys.end())
        return keys.empty() ? Pose::neutral(skeleton) : keys.back().pose;
    // before the first key lies neutral, at 0
    const bool first = after == keys.begin();
    const double from = first ? 0 : (after - 1)->at;
    const double t = after->at > from ? std::clamp((at - from) / (after->at - from), 0.0, 1.0) : 1;
    return blended(first ? Pose::neutral(skeleton) : (after - 1)->pose, after->pose, t);
}

} // namespace

Pose poseAt(const Skeleton& skeleton, const Motion& motion, double angle) {
    if (motion.keys)
        return keyedPose(skeleton, *motion.keys, angle);
    Pose pose = Pose::neutral(skeleton);
    for (const JointTurn& t : motion.turns)
        pose.turn[t.joint] = pose.turn[t.joint] * Quat(Eigen::AngleAxisd(radians(angle * t.share), t.axis));
    for (const JointShift& s : motion.shifts) {
        pose.shift.resize(pose.turn.size(), Vec3d::Zero());
        pose.shift[s.joint] += angle * s.perUnit;
    }
    for (const TargetShare& t : motion.targets)
        if (angle != 0)
            pose.targets.push_back({t.part, t.target, angle * t.perUnit});
    return pose;
}

std::string wordsFor(const Motion& m) {
    const std::string name = motionName(m.name);
    return m.side == Side::Middle ? name : say("%s %s", translated(nameOf(m.side)).c_str(), name.c_str());
}

std::string wordsFor(const Motion& m, double at) {
    const std::string number = say("%.0f", at);
    switch (m.span) {
    case Span::Percent:
        return number + " %";
    case Span::Frames: {
        const auto i = static_cast<std::size_t>(std::max(std::round(at), 0.0));
        return i == 0 || i > m.frames.size() ? say("neutral")
                                             : say("frame %d", static_cast<int>(m.frames[i - 1]));
    }
    case Span::Degrees:
        break;
    }
    return number + "°";
}

std::string presentId(const std::string& id) {
    const auto at = id.find("finger-");
    if (at == std::string::npos || at + 8 >= id.size() || id[at + 8] != '-')
        return id;
    const int digit = id[at + 7] - '0';
    return digit < 1 || digit > 4 ? id : id.substr(0, at) + digitName(digit) + id.substr(at + 8);
}

std::vector<double> stepsTo(double limit, double step) {
    std::vector<double> out{0};
    for (int k = 1; k * step < limit - 1e-6; ++k)
        out.push_back(k * step);
    out.push_back(limit);
    out.push_back(0);
    return out;
}

double stepBeside(const Motion& m, double at, bool further) {
    double out = further ? m.limit() : 0;
    for (double step : m.steps)
        if (further ? step > at + 1e-6 && step < out : step < at - 1e-6 && step > out)
            out = step;
    return out;
}

int otherSideOf(const Plan& plan, int motion) {
    const Motion& m = plan.motions[static_cast<std::size_t>(motion)];
    if (m.side != Side::Middle)
        for (int k = 0; k < static_cast<int>(plan.motions.size()); ++k) {
            const Motion& other = plan.motions[static_cast<std::size_t>(k)];
            if (k != motion && other.name == m.name && other.limb == m.limb)
                return k;
        }
    return -1;
}

} // namespace hobble
