// Skin beyond a joint that misses part of its turn: because the passage is so long that it ends nowhere, or
// because the joint above holds it.
#include "core/judge/causes/case.h"

#include <algorithm>

namespace hobble {

void askLag(const Case& c, Causes& found) {
    constexpr double weight = 0.93;
    if (c.finding.kind != Kind::Lag ||
        among(found, {CauseKind::StrayInfluence, CauseKind::PatchLeftBehind, CauseKind::NeighbourFinger},
              weight))
        return;
    const JointZone& zone = c.subject.zones[static_cast<std::size_t>(c.joint())];
    const int parent = c.parentOf(c.joint());
    if (zone.empty() || zone.limbRadius <= 0 || parent < 0)
        return;
    // What passes over too long a way takes from the limb above as it gives of the limb below.
    constexpr double away = 1.3, follows = 0.1, enough = 0.2; // limb radii; of the turn; of the skin up there
    const std::vector<char> below = c.skeleton().subtree(c.joint());
    const Vec3d here = c.skeleton().neutralWorld[static_cast<std::size_t>(c.joint())].translation();
    std::size_t above = 0, going = 0;
    for (std::uint32_t v : zone.vertices)
        if (c.subject.surface.shellOf[v] == zone.shell &&
            (c.subject.neutral[v].cast<double>() - here).dot(zone.axis) < -away * zone.limbRadius) {
            ++above;
            going += c.subject.surface.weightOn(v, below) > follows;
        }
    const BlendShape& b = c.context.blends[static_cast<std::size_t>(c.joint())];
    if (above > 3 && static_cast<double>(going) > enough * static_cast<double>(above))
        found.push_back(
            {CauseKind::BlendTooWide, weight, fact::PassesOverLength{b.known ? b.width : 2 * away, {}}});
    else
        found.push_back(
            {CauseKind::HeldByParent, weight, fact::LagsBehindLimb{c.joint(), parent, c.finding.peakValue}});
}

} // namespace hobble
