#include "core/character/stacked_joints.h"

#include "core/character/roles.h"

#include <algorithm>

namespace hobble {

namespace {

constexpr double kSamePlace = 1e-4; // of the skeleton's extent

// Per joint, the joint whose stack it is in: itself, one below that carries the limb on, or one above that
// does.
std::vector<int> stacks(const Skeleton& sk, const std::vector<char>& holds,
                        const std::function<bool(int)>& alone) {
    const auto n = sk.name.size();
    Eigen::AlignedBox3d box;
    for (int j = 0; j < sk.size(); ++j)
        box.extend(sk.place(j));
    const double same = kSamePlace * box.sizes().maxCoeff();
    std::vector<char> moves = holds; // it or what hangs from it
    for (std::size_t j = n; j-- > 0;)
        if (const int p = sk.parent[j]; p >= 0 && moves[j])
            moves[static_cast<std::size_t>(p)] = 1;
    const auto children = sk.children();
    std::vector<int> of(n);
    for (std::size_t j = 0; j < n; ++j)
        of[j] = static_cast<int>(j);
    // From the leaves up, so that of several groups above one joint each finds those below it taken.
    for (int p = sk.size() - 1; p >= 0; --p) {
        const auto at = static_cast<std::size_t>(p);
        if (holds[at] || sk.parent[at] < 0)
            continue;
        int here = -1, lying = 0, beside = 0;
        for (int k : children[at])
            if (moves[static_cast<std::size_t>(k)] || !moves[at]) { // or of nothing that holds any
                const bool there = (sk.place(k) - sk.place(p)).norm() <= same;
                here = there ? k : here;
                lying += there;
                beside += !there;
            }
        if (lying != 1)
            continue;
        const int below = of[static_cast<std::size_t>(here)];
        const auto& further = children[static_cast<std::size_t>(below)];
        const bool goesOn = std::any_of(further.begin(), further.end(), [&](int k) {
            return moves[static_cast<std::size_t>(k)] || !moves[at];
        });
        if (goesOn && beside > 0)
            continue;
        const int kept = beside > 0 ? p : below, given = beside > 0 ? below : p;
        if (alone(given))
            continue;
        for (int& o : of)
            o = o == given ? kept : o;
    }
    return of;
}

} // namespace

std::optional<StackedJoints> stackedJoints(const Character& c, const std::function<bool(int)>& alone) {
    std::vector<char> holds = holdsSkin(c);
    if (std::none_of(holds.begin(), holds.end(), [](char h) { return h != 0; }))
        return std::nullopt; // a capture's joints each have a turn of their own
    for (const Part& p : c.parts)
        if (p.carrier >= 0)
            holds[static_cast<std::size_t>(p.carrier)] = 1;
    const Skeleton& from = c.skeleton;
    const auto n = from.name.size();
    const std::vector<int> stack = stacks(from, holds, alone);
    StackedJoints out;
    std::vector<int> now(n, -1); // of what stands for a stack
    // What stands for a stack may come after what hangs from it: a stack takes the place of its first.
    std::vector<int> parent;
    for (std::size_t j = 0; j < n; ++j) {
        const auto s = static_cast<std::size_t>(stack[j]);
        if (now[s] >= 0)
            continue;
        now[s] = static_cast<int>(out.stands.size());
        out.stands.push_back(static_cast<int>(s));
        const int p = from.parent[j];
        parent.push_back(p < 0 ? -1 : now[static_cast<std::size_t>(stack[static_cast<std::size_t>(p)])]);
    }
    if (out.stands.size() == n)
        return std::nullopt;
    for (std::size_t j = 0; j < n; ++j) {
        out.of.push_back(now[static_cast<std::size_t>(stack[j])]);
        out.isMember.push_back(stack[j] != static_cast<int>(j));
        out.isAbove.push_back(static_cast<int>(j) < stack[j]); // parents come first
    }
    Skeleton to;
    for (std::size_t i = 0; i < out.stands.size(); ++i) {
        const auto j = static_cast<std::size_t>(out.stands[i]);
        to.name.push_back(from.name[j]);
        to.parent.push_back(parent[i]);
        to.neutralWorld.push_back(from.neutralWorld[j]);
        to.neutralLocal.push_back(parent[i] < 0
                                      ? to.neutralWorld.back()
                                      : to.neutralWorld[static_cast<std::size_t>(parent[i])].inverse() *
                                            to.neutralWorld.back());
        if (!from.humanoidBone.empty())
            to.humanoidBone.push_back(from.humanoidBone[j]);
    }
    out.character = c;
    out.character.skeleton = std::move(to);
    std::vector<std::uint16_t> joint(c.weights.joint.begin(), c.weights.joint.end());
    for (std::uint16_t& j : joint)
        j = static_cast<std::uint16_t>(out.of[j]);
    out.character.weights.joint = std::move(joint);
    std::vector<Part> parts(c.parts.begin(), c.parts.end());
    for (Part& p : parts)
        if (p.carrier >= 0)
            p.carrier = out.of[static_cast<std::size_t>(p.carrier)];
    out.character.parts = std::move(parts);
    out.character.drivers.clear();
    out.character.clips = {};
    out.character.skins.clear();
    return out;
}

} // namespace hobble
