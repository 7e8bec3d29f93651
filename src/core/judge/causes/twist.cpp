// A roll that one joint takes, where twist joints should share it.
#include "core/judge/causes/case.h"

#include <algorithm>

namespace hobble {

void askTwist(const Case& c, Causes& found) {
    constexpr double sharedOnMirror = 0.98; // the other side shows how it was meant
    constexpr double onlySeen = 0.75;       // no twist joint in sight, and no collapse either
    constexpr double plain = 0.92, least = 0.9, most = 0.97, forCollapse = 0.05;
    if (!c.motion.roll || c.method != Skinning::Linear)
        return;
    const auto& drivers = c.subject.character->drivers;
    bool shared = false, there = false;
    for (int j = 0; j < c.skeleton().size(); ++j) {
        if (c.roleOf(j) != Role::Twist)
            continue;
        const int p = c.parentOf(j);
        there = there || p == c.joint() || p == c.parentOf(c.joint());
        for (const Driver& d : drivers)
            shared = shared || (d.output == Driver::Output::Turn && d.joint == j && d.source == c.joint());
    }
    // Twist joints that carry skin of their own may be turned by the clip itself.
    if (shared || (there && drivers.empty()))
        return;
    const double collapse = c.gone(Skinning::DualQuaternion, nullptr);
    const bool otherShares =
        c.mirror() >= 0 && std::any_of(drivers.begin(), drivers.end(), [&](const Driver& d) {
            return d.output == Driver::Output::Turn && d.source == c.mirror() &&
                   c.roleOf(d.joint) == Role::Twist;
        });
    const bool collapses = c.finding.kind == Kind::Pinch || c.finding.kind == Kind::VolumeLoss;
    const double weight = otherShares            ? sharedOnMirror
                          : !there && !collapses ? onlySeen
                                                 : std::clamp(plain + forCollapse * collapse, least, most);
    found.push_back({CauseKind::TwistNotShared, weight, fact::RollTakenByOne{c.finding.peak, there}});
}

} // namespace hobble
