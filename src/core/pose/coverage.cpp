#include "core/pose/coverage.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace hobble {

namespace {

// Flags the joints that a motion itself turns or shifts.
void addMoved(const Motion& m, std::vector<char>& moved) {
    for (const JointTurn& t : m.turns)
        if (t.share != 0 && m.span == Span::Degrees && !m.keys)
            moved[static_cast<std::size_t>(t.joint)] = 1;
    for (const JointShift& s : m.shifts)
        if (s.perUnit.norm() > 0)
            moved[static_cast<std::size_t>(s.joint)] = 1;
    if (!m.keys)
        return;
    for (const MotionKey& key : *m.keys) {
        for (std::size_t j = 0; j < key.pose.turn.size(); ++j)
            if (key.pose.turn[j].angularDistance(Quat::Identity()) > radians(1))
                moved[j] = 1;
        for (std::size_t j = 0; j < key.pose.shift.size(); ++j)
            if (key.pose.shift[j].norm() > 1e-6)
                moved[j] = 1;
    }
}

bool follows(Role r) { return r == Role::Twist || r == Role::Helper || r == Role::End; }

} // namespace

std::vector<double> skinHeldBy(const Character& c) {
    std::vector<double> out(c.skeleton.name.size(), 0);
    for (const Triangle& t : c.triangles) {
        const Vec3d a = c.neutral[t[0]].cast<double>(), b = c.neutral[t[1]].cast<double>(),
                    d = c.neutral[t[2]].cast<double>();
        const double third = (b - a).cross(d - a).norm() / 6;
        if (!std::isfinite(third))
            continue;
        for (std::uint32_t v : t)
            for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
                out[c.weights.joint[i]] += third * c.weights.weight[i];
    }
    return out;
}

Coverage coverageOf(const Character& c, const std::vector<JointRole>& roles, const Plan& plan) {
    return coverageOf(c, roles, plan, skinHeldBy(c));
}

Coverage coverageOf(const Character& c, const std::vector<JointRole>& roles, const Plan& plan,
                    const std::vector<double>& held) {
    const Skeleton& sk = c.skeleton;
    const auto n = sk.name.size();
    std::vector<char> moved(n, 0), planned(n, 0);
    for (const Motion& m : plan.motions)
        addMoved(m, m.on ? moved : planned);
    // Drivers come in the order in which they are evaluated.
    for (const Driver& d : c.drivers)
        if (d.output != Driver::Output::Target && d.joint >= 0 && d.source >= 0 && moved[d.source])
            moved[d.joint] = 1;
    std::vector<char> holds(n, 0);
    for (std::size_t j = n; j-- > 0;) {
        holds[j] |= held[j] > 0;
        if (const int p = sk.parent[j]; p >= 0)
            holds[p] |= holds[j];
    }
    // The base: what has skin, and nothing above it that has any of its own.
    const std::vector<char> own = holdsSkin(c);
    std::vector<char> exercised = moved, above(n, 0), childMoved(n, 0);
    for (std::size_t j = 0; j < n; ++j)
        if (const int p = sk.parent[j]; p >= 0) {
            above[j] = above[p] || own[p];
            childMoved[p] |= moved[j];
        }
    for (std::size_t j = n; j-- > 0;) // through joints that hold nothing
        if (const int p = sk.parent[j]; p >= 0 && childMoved[j] && !own[j])
            childMoved[p] = 1;
    for (std::size_t j = 0; j < n; ++j) {
        if (!above[j] && childMoved[j])
            exercised[j] = 1;
        if (const int p = nextAbove(sk, roles, static_cast<int>(j));
            p >= 0 && follows(roles[j].role) && exercised[p])
            exercised[j] = 1;
    }
    Coverage out;
    double all = 0, tested = 0;
    for (std::size_t j = 0; j < n; ++j) {
        all += held[j];
        tested += exercised[j] ? held[j] : 0;
    }
    out.share = all > 0 ? tested / all : 1;
    for (std::size_t j = 0; j < n; ++j) {
        if (held[j] <= 0 || exercised[j])
            continue;
        const Role role = roles[j].role;
        const WhyUntested why = planned[j]                                    ? WhyUntested::Off
                                : role == Role::Twist || role == Role::Helper ? WhyUntested::FollowsNone
                                : !above[j]                                   ? WhyUntested::Base
                                : role == Role::Unknown                       ? WhyUntested::NotKnown
                                                                              : WhyUntested::NotPlanned;
        out.untested.push_back({static_cast<int>(j), held[j] / all, why});
    }
    std::stable_sort(out.untested.begin(), out.untested.end(),
                     [](const UntestedJoint& a, const UntestedJoint& b) { return a.share > b.share; });
    return out;
}

Plan planWith(Plan plan, const Character& c, const std::vector<JointRole>& roles, int joint) {
    bool any = false;
    for (Motion& m : plan.motions) {
        std::vector<char> moved(c.skeleton.name.size(), 0);
        addMoved(m, moved);
        if (m.span == Span::Degrees && moved[static_cast<std::size_t>(joint)])
            any = m.on = true;
    }
    if (any)
        return plan;
    std::set<std::string> ids;
    for (const Motion& m : plan.motions)
        ids.insert(m.id);
    for (Motion& m : motionsByShape(c, roles, joint)) {
        const std::string id = m.id;
        for (int k = 2; !ids.insert(m.id).second; ++k)
            m.id = id + "-" + std::to_string(k);
        plan.motions.push_back(std::move(m));
    }
    return plan;
}

} // namespace hobble
