#pragma once
// Parts that must not bend: hats, bags, teeth, eyes, buttons. A part is taken for rigid when its name says
// so, or when nearly all of its weight is one joint's. Measured shell by shell: the farthest singular value
// from 1, and for parts bound to nothing how far what they sat on has moved away from them.
#include "core/character/surface.h"

#include <optional>

namespace hobble {

struct Subject;
struct MotionRegion;

struct RigidPart {
    int part = -1;
    int joint = -1;      // that holds most of it; for a part bound to nothing, that holds the skin it sits on
    bool byName = false; // otherwise by its weights
    bool bound = true;   // false: nothing moves it
    std::vector<std::uint32_t> triangles; // of the surface
    std::vector<std::pair<std::uint32_t, std::uint32_t>>
        anchors; // own welded vertex, and the nearest of another part

    bool operator==(const RigidPart&) const = default;
};

/// Nothing where the part bends, or nothing is known that it should go with.
std::optional<RigidPart> rigidPart(const Subject& subject, std::size_t part);

std::vector<RigidPart> rigidParts(const Subject& subject);

/// Farthest singular value from 1 that at least a twentieth of the part's area reaches.
double softness(const Subject& subject, const RigidPart& part, const std::vector<Vec3>& posedWelded);

/// Distance, metres, by which the upper quarter of the anchors have come apart.
double drift(const Subject& subject, const RigidPart& part, const std::vector<Vec3>& posedWelded);

} // namespace hobble
