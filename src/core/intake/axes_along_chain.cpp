// Along a chain each joint should point the same of its axes down its bone. Only where most of a skeleton's
// joints do: one whose joints all stand as the world does has no such habit to break.
#include "core/intake/collect.h"

#include <array>
#include <cmath>
#include <optional>

namespace hobble {

namespace {

bool inChain(Role r) {
    return r == Role::Shoulder || r == Role::Elbow || r == Role::Hip || r == Role::Knee ||
           r == Role::Finger || r == Role::Thumb || r == Role::Spine || r == Role::Neck || r == Role::Tail ||
           r == Role::Wing || r == Role::Ear;
}

// Where the bone of a joint points, in the joint's own frame; nothing for a joint whose chain ends in it.
std::optional<Vec3d> boneInFrame(const Character& c, const std::vector<JointRole>& roles, int joint) {
    int next = -1;
    for (int k = joint + 1; k < c.skeleton.size(); ++k)
        if (c.skeleton.parent[k] == joint && roles[k].role != Role::Twist && roles[k].role != Role::Helper &&
            roles[k].role != Role::Control) {
            if (next >= 0)
                return std::nullopt; // it forks
            next = k;
        }
    if (next < 0)
        return std::nullopt;
    const Vec3d d = c.skeleton.neutralLocal[next].translation();
    if (d.norm() < 1e-9)
        return std::nullopt;
    return d.normalized();
}

} // namespace

CheckFindings checkAxesAlongChain(const Subject& s, const IntakeLimits& limits) {
    const Character& c = *s.character;
    const double enough = std::cos(radians(limits.axisDegrees));
    // votes for ±X, ±Y, ±Z, apart for right limbs: mirrored joints may point the other way
    std::array<std::map<int, int>, 2> votes;
    std::array<int, 2> asked{};
    struct Joint {
        int joint, axis, group;
        double along;
    };
    std::vector<Joint> joints;
    for (int j = 0; j < c.skeleton.size(); ++j) {
        if (!inChain(s.roles[j].role) || !s.roles[j].movesSkin)
            continue;
        const auto bone = boneInFrame(c, s.roles, j);
        if (!bone)
            continue;
        int axis;
        const double along = bone->cwiseAbs().maxCoeff(&axis);
        if ((*bone)[axis] < 0)
            axis += 3;
        const int group = s.roles[j].side == Side::Right;
        ++asked[group];
        if (along >= enough)
            ++votes[group][axis];
        joints.push_back({j, axis, group, along});
    }
    CheckFindings out;
    for (const Joint& x : joints) {
        const auto& v = votes[x.group];
        const auto habit = std::max_element(v.begin(), v.end(),
                                            [](const auto& a, const auto& b) { return a.second < b.second; });
        if (habit == v.end() || habit->second * 10 < asked[x.group] * 7 || habit->second < 3)
            continue;
        if (x.axis == habit->first && x.along >= enough)
            continue;
        static const char* names[] = {"X", "Y", "Z", "-X", "-Y", "-Z"};
        out.push_back(
            {.check = tableWord("axes differ along a chain"),
             .severity = 2,
             .joint = x.joint,
             .value = degrees(std::acos(std::clamp(x.along, -1.0, 1.0))),
             .sentence =
                 x.axis == habit->first
                     ? say("%s points its %s axis %.0f degrees off its bone; the other joints "
                           "point it down the bone.",
                           c.skeleton.name[x.joint].c_str(), names[habit->first], degrees(std::acos(x.along)))
                     : say("%s points its %s axis down its bone; the other joints point %s.",
                           c.skeleton.name[x.joint].c_str(), names[x.axis], names[habit->first]),
             .advice = say("Orient the joint like its neighbours before binding.")});
    }
    return out;
}

} // namespace hobble
