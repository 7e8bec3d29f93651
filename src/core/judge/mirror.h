#pragma once
// The other side as a witness: where the weights of one side differ from those at the mirrored place,
// something was done to one side only, and how they differ says what.
#include "core/judge/findings.h"

namespace hobble {

struct MirrorTwins {
    std::vector<std::uint32_t> twin; // per welded vertex the one at its mirrored place, or kNone; empty when
                                     // the character has no two sides
    static constexpr std::uint32_t kNone = ~0u;
};

/// Mirrored at the plane midway between paired joints; a vertex counts as the twin within a third of an edge.
MirrorTwins mirrorTwins(const Subject& subject);

struct SideDifference {
    double skin = 0, garment = 0; // mean difference of weights (0 … 1) where it differs: of what is covered
                                  // or bare, and of what covers it
    int joint = -1;               // whose skin it is that differs
    double mean = 0;              // how much less or more it follows that joint, 0 … 1
    double harder = 0;            // 1: passes over in less space than at the twin; −1: in more
    double less = 0;              // 1: follows less everywhere; 0: more everywhere
    double around = 0;            // of the limb: 1 all round, 0 on one side of it
};

/// Over the skin that differs and hangs together with what is marked. All 0 where nothing does.
SideDifference sideDifference(const Subject& subject, const MirrorTwins& twins, const Finding& finding);

/// How far a joint lies from the mirrored place of its mirror, in limb radii; 0 where it has none.
double offMirror(const Subject& subject, int joint);

} // namespace hobble
