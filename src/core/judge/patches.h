#pragma once
// Triangles beyond a limit that touch each other make a patch; a patch must cover a least share of its zone.
#include "core/judge/limits.h"
#include "core/measure/subject.h"

namespace hobble {

struct Patch {
    Kind kind = Kind::Stretch;
    double value =
        1; // what at least the smallest counting area of it exceeds: a single triangle decides nothing
    double area = 0;                      // m², neutral
    std::vector<std::uint32_t> triangles; // of the surface, ascending
};

/// The patches of one zone in one pose. `strain` pairs with the zone's triangles.
std::vector<Patch> findPatches(const Subject& subject, const JointZone& zone, const ZoneMeasures& measures,
                               const std::vector<Strain>& strain, const Limits& limits);

} // namespace hobble
