// A vertex that one joint holds far more than it holds any of its neighbours.
#include "core/judge/causes/case.h"

namespace hobble {

void askLoneVertex(const Case& c, Causes& found) {
    constexpr double leastStep = 0.35, leastHeld = 0.4, weight = 0.985;
    const Kind kind = c.finding.kind;
    if (kind == Kind::Pinch || kind == Kind::VolumeLoss || kind == Kind::Bulge)
        return; // one vertex does not take a limb's volume
    double most = leastStep, around = 0;
    int joint = -1;
    const Surface& f = c.subject.surface;
    for (std::uint32_t v : c.marked)
        for (std::uint32_t i = f.weights.first[v]; i < f.weights.first[v + 1]; ++i) {
            const int holder = f.weights.joint[i];
            const auto held = static_cast<double>(f.weights.weight[i]);
            const Role role = c.roleOf(holder); // helpers hold little skin, where loops are few
            if (held < leastHeld || role == Role::Helper || role == Role::Twist)
                continue;
            std::vector<char> one(c.skeleton().name.size(), 0);
            one[static_cast<std::size_t>(holder)] = 1;
            double next = 0;
            for (auto n = f.neighbours.begin(v); n != f.neighbours.end(v); ++n)
                next = std::max(next, f.weightOn(*n, one));
            if (held - next > most) {
                most = held - next;
                around = next;
                joint = holder;
            }
        }
    if (joint >= 0)
        found.push_back({CauseKind::StrayInfluence, weight, fact::LoneVertex{joint, most + around, around}});
}

} // namespace hobble
