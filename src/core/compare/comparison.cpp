#include "core/compare/comparison.h"

#include <numeric>

namespace hobble {

namespace {

Pairing ofOneMesh(const Subject& one, const Subject& other) {
    Pairing p;
    p.joints.other.resize(one.roles.size());
    std::iota(p.joints.other.begin(), p.joints.other.end(), 0);
    p.joints.sameBody = true;
    p.joints.byName = static_cast<int>(p.joints.other.size());
    p.joints.moving = p.joints.movingPaired = p.joints.otherMoving = p.joints.byName;
    p.partOf.resize(one.character->parts.size());
    std::iota(p.partOf.begin(), p.partOf.end(), 0);
    p.place.assign(one.neutral.size(), {});
    for (std::uint32_t v = 0; v < one.neutral.size(); ++v) {
        const auto& at = other.surface.trianglesAt;
        if (at.count(v) == 0)
            continue;
        const std::uint32_t t = *at.begin(v);
        p.place[v].triangle = t;
        for (std::size_t k = 0; k < 3; ++k)
            p.place[v].share[k] = other.surface.triangles[t][k] == v ? 1.f : 0.f;
    }
    p.found = 1;
    p.sameMesh = true;
    return p;
}

} // namespace

Comparison compare(const ComparedSides& sides, const ComparisonOptions& options, const Progress& progress) {
    Comparison out;
    out.sides = sides;
    out.versus = options.versus;
    const Subject &before = *sides[0].subject, &now = *sides[1].subject;
    if (out.mirrored()) {
        out.onBefore = out.onNow = pairMirrored(now, progress);
    } else if (sides[0].subject == sides[1].subject) { // skinned otherwise, or the very same
        out.onBefore = out.onNow = ofOneMesh(now, before);
        if (out.versus == Versus::Build)
            out.versus = Versus::Itself;
    } else if (options.skin) {
        out.onBefore = pairSkin(now, before, progress.within(0, 0.5));
        out.onNow = pairSkin(before, now, progress.within(0.5, 1));
    } else {
        out.onBefore.joints = pairJoints(now, before);
        out.onNow.joints = pairJoints(before, now);
        out.onBefore.by = out.onNow.by = out.onBefore.joints.sameBody ? PairedBy::SamePlace : PairedBy::Limbs;
    }
    if (progress.stopped())
        return out;
    if (out.versus == Versus::Build && !out.onBefore.joints.sameBody)
        out.versus = Versus::Character;
    if (out.versus == Versus::Build && before.character->hash == now.character->hash &&
        !now.character->hash.empty())
        out.versus = Versus::Itself;
    out.differences = compareRuns(sides, out.onBefore.joints, {options.limits, out.mirrored()});
    if (!out.onBefore.place.empty() && out.onBefore.by == PairedBy::SamePlace)
        out.neutral = neutralDifference(now, before, out.onBefore);
    return out;
}

} // namespace hobble
