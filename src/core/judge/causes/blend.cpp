// The shape of the joint's own blend: over too few edges, too hard, too wide; against its mirror where there
// is one.
#include "core/judge/causes/case.h"

#include <algorithm>

namespace hobble {

void askBlend(const Case& c, Causes& found) {
    if (c.context.hard[static_cast<std::size_t>(c.joint())]) {
        constexpr double plain = 0.95;
        if (c.context.boundHard)
            found.push_back({CauseKind::NoBlend, plain, fact::BoundHard{c.joint(), c.parentOf(c.joint())}});
        else
            found.push_back({CauseKind::BlendTooHard, plain, fact::PassesInOneEdge{1, {}}});
        return;
    }
    const BlendShape& b = c.context.blends[static_cast<std::size_t>(c.joint())];
    if (!b.known)
        return;
    const BlendShape* other = nullptr;
    if (c.mirror() >= 0 && c.context.blends[static_cast<std::size_t>(c.mirror())].known)
        other = &c.context.blends[static_cast<std::size_t>(c.mirror())];
    const auto ofOther = [&](double BlendShape::*what) {
        return other ? std::optional(other->*what) : std::nullopt;
    };

    constexpr double longEdge = 1.7, longerThanMirror = 1.5; // times the limb's others
    constexpr double fewEdges = 0.4; // of the weight along one edge: two and a half edges
    if (b.perEdge > fewEdges && (b.edge > longEdge || (other && b.edge > longerThanMirror * other->edge))) {
        found.push_back({CauseKind::TooFewLoops, std::min(0.96, 0.75 + 0.3 * b.perEdge),
                         fact::FewEdges{b.perEdge > 0 ? 1 / b.perEdge : 99, b.edge}});
        return;
    }
    // Where edges are long, a good passage takes few of them: then the mesh is what is wanting, on every
    // joint of a low one.
    constexpr double goodPassage = 1.6, lowMesh = 0.5, alike = 1.35; // limb radii; times what such edges make
    const double byMesh = b.edgeRadii / goodPassage;
    const bool lowEdges = b.edgeRadii > lowMesh && b.perEdge > fewEdges && b.perEdge < alike * byMesh;
    if (lowEdges && (!other || b.perEdge < longerThanMirror * other->perEdge)) {
        found.push_back(
            {CauseKind::TooFewLoops, 0.7, fact::FewEdges{b.perEdge > 0 ? 1 / b.perEdge : 99, b.edge}});
        return;
    }
    const double hard = std::max(0.45, std::min(alike * byMesh, 0.9)); // of the weight along one edge
    const bool harder =
        other && lessNatural(b, *other) && b.perEdge > 1.15 * other->perEdge &&
        (b.width < 0.75 * other->width || (b.perEdge > 1.6 * other->perEdge && b.perEdge > 0.25));
    if (b.perEdge > hard || harder)
        found.push_back({CauseKind::BlendTooHard, std::min(0.95, 0.62 + 0.4 * b.perEdge + (harder ? 0.2 : 0)),
                         fact::PassesInOneEdge{b.perEdge, ofOther(&BlendShape::perEdge)}});
    constexpr double wide = 4.2; // limb radii
    const bool wider = other && lessNatural(b, *other) && b.width > 1.25 * other->width;
    if (b.width > wide || wider)
        found.push_back({CauseKind::BlendTooWide, wider ? 0.88 : std::min(0.8, 0.2 + 0.12 * b.width),
                         fact::PassesOverLength{b.width, ofOther(&BlendShape::width)}});
}

} // namespace hobble
