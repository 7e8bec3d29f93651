#include "core/judge/sides.h"

#include "core/measure/tip_travel.h"
#include "core/run/run.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

constexpr Kind kCompared[] = {Kind::Stretch, Kind::Squash, Kind::VolumeLoss, Kind::Bulge, Kind::Pinch};

double trouble(const ZoneMeasures& m, Kind kind, const Limits& limits, Role role) {
    const auto v = valueOf(kind, m);
    return v ? troubleOf(kind, *v, limits.of(kind, role)) : 0;
}

Patch zonePatch(const Subject& s, Kind kind, double value, int joint) {
    Patch p;
    p.kind = kind;
    p.value = value;
    p.triangles = s.zones[joint].triangles;
    p.area = s.zones[joint].area;
    return p;
}

// The motion of the other side: the same name, the other side, joints that are each other's mirror.
int otherSide(const Subject& s, const Plan& plan, std::size_t m) {
    const Motion& a = plan.motions[m];
    if (a.side == Side::Middle || a.turns.size() != 1 || s.roles[a.turns[0].joint].mirror < 0)
        return -1;
    for (std::size_t o = 0; o < plan.motions.size(); ++o) {
        const Motion& b = plan.motions[o];
        if (b.name == a.name && b.side != a.side && b.side != Side::Middle && b.turns.size() == 1 &&
            b.turns[0].joint == s.roles[a.turns[0].joint].mirror)
            return static_cast<int>(o);
    }
    return -1;
}

} // namespace

std::vector<std::vector<PosePatches>> compareSides(const Subject& s, const Plan& plan,
                                                   std::vector<MotionResult>& results, const Limits& limits) {
    std::vector<std::vector<PosePatches>> patches(results.size());
    for (std::size_t m = 0; m < results.size(); ++m)
        patches[m].resize(results[m].steps.size());
    for (std::size_t m = 0; m < plan.motions.size(); ++m) {
        const int o = otherSide(s, plan, m);
        if (o < 0 || results[m].steps.empty() || results[o].steps.empty())
            continue;
        const int joint = plan.motions[m].turns[0].joint;
        const Role role = s.roles[joint].role;
        for (std::size_t i = 0; i + 1 < results[m].steps.size(); ++i) {
            // At the same angle; the ends of the two ranges may differ by what the limbs are bent in neutral.
            const double degrees = results[m].steps[i].at;
            const StepResult* other = nullptr;
            for (const StepResult& x : results[o].steps)
                if (std::abs(x.at - degrees) < 2 &&
                    (!other || std::abs(x.at - degrees) < std::abs(other->at - degrees)))
                    other = &x;
            if (!other)
                continue;
            double most = 0;
            for (Kind k : kCompared)
                most = std::max(most, trouble(results[m].steps[i].joints[0].measures, k, limits, role) -
                                          trouble(other->joints[0].measures, k, limits, role));
            results[m].steps[i].joints[0].measures.side = most;
            if (severityOf(Kind::OneSided, most, limits.of(Kind::OneSided, role)) > 0 &&
                !s.zones[joint].empty())
                patches[m][i].push_back({joint, zonePatch(s, Kind::OneSided, most, joint)});
        }
    }
    for (const TipTravel& t : tipTravels(s, plan)) {
        if (results[t.motion].steps.size() < 2)
            continue;
        const std::size_t last = results[t.motion].steps.size() - 2;
        results[t.motion].steps[last].joints[0].measures.bend = t.degrees;
        if (severityOf(Kind::WrongBend, t.degrees, limits.of(Kind::WrongBend, s.roles[t.joint].role)) > 0)
            patches[t.motion][last].push_back({t.joint, zonePatch(s, Kind::WrongBend, t.degrees, t.joint)});
    }
    return patches;
}

} // namespace hobble
