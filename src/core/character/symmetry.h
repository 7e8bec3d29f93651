#pragma once
// The plane that the skeleton is mirrored at, found rather than assumed: proposed by joints whose names pair,
// by siblings that carry like subtrees and by the axes, and taken from whichever brings most joints onto
// joints.
#include "core/character/character.h"

namespace hobble {

struct MirrorPlane {
    bool found = false;
    Vec3d normal = Vec3d::UnitX(); // unit; towards the left where names say which side that is
    double offset = 0;             // metres: points p of the plane have p·normal = offset
    double matched = 0;            // share of the joints whose mirrored place holds a joint like them
    std::vector<int> partner; // per joint: what stands at its mirrored place, itself on the plane, -1 none
    std::string basis;        // "paired names", "the tree", "the axes"

    Vec3d mirrored(const Vec3d& p) const { return p - 2 * (p.dot(normal) - offset) * normal; }
    double distance(const Vec3d& p) const { return p.dot(normal) - offset; }
};

/// `pairs`: joints whose names say that they are left and right of each other; may be empty.
MirrorPlane findMirrorPlane(const Character& character, const std::vector<std::pair<int, int>>& pairs);

} // namespace hobble
