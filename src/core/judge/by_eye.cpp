#include "core/judge/by_eye.h"

#include "core/judge/skin_values.h"
#include "core/measure/quantile.h"
#include "core/measure/touching.h"

#include <algorithm>

namespace hobble {

double valueOn(const Subject& s, const std::vector<float>& values, Kind kind,
               const std::vector<std::uint32_t>& triangles) {
    std::vector<std::pair<float, float>> weighted;
    for (std::uint32_t t : triangles) {
        const Triangle& c = s.surface.triangles[t];
        weighted.emplace_back((values[c[0]] + values[c[1]] + values[c[2]]) / 3,
                              std::max(s.surface.area[t], 1e-12f));
    }
    return weightedQuantile(std::move(weighted), faultIsAbove(kind) ? 0.99 : 0.01);
}

Finding findingByEye(const Subject& s, const Plan& plan, int motion, const MeasuredMotion& measured,
                     double degrees, Kind kind, const Limits& limits, std::vector<std::uint32_t> triangles) {
    const Motion& m = plan.motions[static_cast<std::size_t>(motion)];
    Finding f;
    f.joint = jointOfPatch(s, m, measured.turnOf, triangles);
    f.side = s.roles[f.joint].side;
    f.role = s.roles[f.joint].role;
    f.kind = kind;
    f.motion = motion;
    f.motions = {motion};
    f.onset = f.peak = degrees;
    f.peakValue = valueOn(s, skinValues(s, m, measured, 0, kind), kind, triangles);
    const LimitSteps& steps = limits.of(kind, f.role);
    f.limit = steps[0];
    f.severity = std::max(1, severityOf(kind, f.peakValue, steps));
    f.triangles = std::move(triangles);
    markSkin(s, f);
    return f;
}

Kind worstKindAt(const Subject& s, const Motion& motion, const MeasuredMotion& measured, const Limits& limits,
                 const std::vector<std::uint32_t>& triangles) {
    const Role role = s.roles[jointOfPatch(s, motion, measured.turnOf, triangles)].role;
    Kind worst = Kind::Stretch;
    double most = -1;
    for (Kind k : kKinds) {
        if (k == Kind::Spike) // the same measure as roughness, with limits for single vertices
            continue;
        const double trouble =
            troubleOf(k, valueOn(s, skinValues(s, motion, measured, 0, k), k, triangles), limits.of(k, role));
        if (trouble > most) {
            most = trouble;
            worst = k;
        }
    }
    return worst;
}

} // namespace hobble
