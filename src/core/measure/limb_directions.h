#pragma once
// Which way the limb runs at a joint, in the neutral pose: from the bones above and below it, or where there
// is none below, from the skin it holds. Our own: a joint's axes say how it was made, not where its limb
// lies.
#include "core/character/roles.h"
#include "core/character/surface.h"

namespace hobble {

/// What each joint holds of the skin, over all welded vertices.
struct SkinHeld {
    std::vector<double> weight; // per joint: the sum of its weights
    std::vector<Vec3d> moment;  // per joint: the sum of its weights times the places, metres
    std::vector<char> below;    // per joint: it, or a joint below it, holds some
    /// Welded vertices side by side, the lesser first, ascending, that are held by other joints altogether:
    /// skin bound without a blend gives between them.
    std::vector<std::pair<std::uint32_t, std::uint32_t>> hardEdges;

    bool operator==(const SkinHeld&) const = default;
};

/// `neutral` has one position per welded vertex.
SkinHeld skinHeld(const Skeleton& skeleton, const Surface& surface, const std::vector<Vec3>& neutral);

/// The next joint above that holds skin: what a joint's skin blends with, whatever empty groups and controls
/// lie between. Where none above does, the parent.
int holderAbove(const Skeleton& skeleton, const SkinHeld& held, int joint);

struct LimbDirections { // unit, world
    Vec3d fromParent, toTip, axis;

    bool operator==(const LimbDirections&) const = default;
};

/// `extent` of the character, metres. The parent's bone counts only where the limb does not branch there: at
/// a hip the way from the pelvis is sideways, and says nothing about the thigh.
LimbDirections limbDirections(const Skeleton& skeleton, const SkinHeld& held, double extent, int joint);

} // namespace hobble
