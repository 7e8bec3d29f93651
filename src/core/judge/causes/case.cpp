#include "core/judge/causes/case.h"

#include <algorithm>
#include <cmath>

namespace hobble {

Case::Case(const Subject& s, const CauseContext& ctx, const Plan& plan, Skinning how, const Finding& f)
    : asked(f.joint), subject(s), context(ctx), motion(plan.motions[static_cast<std::size_t>(f.motion)]),
      method(how), finding(f) {
    for (std::uint32_t t : f.triangles)
        marked.insert(s.surface.triangles[t].begin(), s.surface.triangles[t].end());
    sides = sideDifference(s, ctx.twins, f);
    if (f.kind == Kind::VolumeLoss || f.kind == Kind::Bulge)
        joined = joinZones(s, motion);
}

bool Case::isAbove(int above, int below) const {
    for (int j = parentOf(below); j >= 0; j = parentOf(j)) {
        if (j == above)
            return true;
        if (roleOf(j) != Role::Twist && roleOf(j) != Role::Helper)
            return false;
    }
    return false;
}

bool Case::watches(const Driver& d) const {
    return d.source == finding.joint || std::any_of(motion.turns.begin(), motion.turns.end(),
                                                    [&](const JointTurn& t) { return t.joint == d.source; });
}

bool Case::ofTheShape() const {
    return finding.kind == Kind::Stretch || finding.kind == Kind::Squash ||
           finding.kind == Kind::VolumeLoss || finding.kind == Kind::Bulge || finding.kind == Kind::Pinch;
}

std::optional<double> Case::valueWith(Skinning how, const std::vector<char>* off,
                                      const Character* edited) const {
    const Subject& s = subject;
    AskedOnce::Points kept;
    std::vector<Vec3> posed, own;
    if (edited) {
        deform(*edited, drive(*edited, poseAt(skeleton(), motion, finding.peak), off), how, posed);
        weldedPositions(s.surface, posed, own);
    } else {
        kept = context.once->posed(motion, finding.peak, how, off);
    }
    const std::vector<Vec3>& welded = edited ? own : *kept;
    if (finding.kind == Kind::Stretch ||
        finding.kind == Kind::Squash) { // where it is marked, not over the zone
        constexpr double fifth = 0.2;   // of the marked area shows at least so much
        std::vector<std::pair<float, float>> items;
        for (std::uint32_t t : finding.triangles) {
            const auto& [a, b, c] = s.surface.triangles[t];
            const Strain x = strainOf(s.rest[t], welded[a], welded[b], welded[c]);
            items.emplace_back(finding.kind == Kind::Stretch ? -x.stretch : x.squash, s.surface.area[t]);
        }
        return std::abs(weightedQuantile(std::move(items), fifth));
    }
    const auto zoneAt = [&](int joint) {
        return measureZone(s.surface, s.rest, s.zones[static_cast<std::size_t>(joint)], welded);
    };
    if (joined.pieces.empty())
        return valueOf(finding.kind, zoneAt(finding.joint));
    std::vector<ZoneMeasures> zones;
    for (const JointTurn& t : motion.turns)
        zones.push_back(t.joint == finding.joint ? zoneAt(t.joint) : ZoneMeasures{});
    measureJoined(s.surface, joined, welded, zones);
    for (std::size_t k = 0; k < zones.size(); ++k)
        if (motion.turns[k].joint == finding.joint)
            return valueOf(finding.kind, zones[k]);
    return std::nullopt;
}

double Case::gone(Skinning how, const std::vector<char>* off, const Character* edited) const {
    const auto now = valueWith(method, nullptr, nullptr), then = valueWith(how, off, edited);
    const double unchanged = unchangedOf(finding.kind);
    if (!now || !then || std::abs(*now - unchanged) < 1e-6)
        return 0;
    return 1 - std::abs(*then - unchanged) / std::abs(*now - unchanged);
}

bool among(const Causes& found, std::initializer_list<CauseKind> kinds, double weight) {
    return std::any_of(found.begin(), found.end(), [&](const Cause& x) {
        return x.weight > weight && std::find(kinds.begin(), kinds.end(), x.kind) != kinds.end();
    });
}

} // namespace hobble
