#pragma once
// Which skin a step is about: marked, under a stroke, in a joint's reach, or all of it. Told by places on the
// neutral surface and not by numbers alone where a person drew it, so that it survives another mesh.
#include "core/mend/shares.h"
#include "core/result.h"

#include <string>
#include <vector>

namespace hobble {

struct MendPlace {
    enum class What {
        Everywhere,
        Reach,  // where the joint has a share
        Marked, // vertices of the surface
        Stroke  // within a radius of a path over the neutral skin
    } what = What::Everywhere;
    std::string joint;                   // of Reach
    std::vector<std::uint32_t> vertices; // of Marked: welded, ascending
    std::vector<Vec3> path;              // of Stroke: metres, world, neutral
    double radius = 0;                   // of Stroke, metres
    /// Of Stroke: how hard the hand pressed at each point of the path, 0 … 1; empty: fully everywhere. What
    /// is nearest to a place says how much of the stroke it gets.
    std::vector<float> pressure;
    /// Of Stroke: by the way along the surface (Dijkstra over its edges), so that a finger's brush leaves the
    /// next finger alone; otherwise straight, through what is thin.
    bool along = true;
    bool operator==(const MendPlace&) const = default;
};

/// How much of a step a vertex gets: 1 in the middle of a stroke, falling to 0 at its radius as (1 − d²)².
struct Amount {
    std::uint32_t vertex = 0;
    double by = 0;
};

/// Ascending, above 0; a joint's reach is what it has by now. An error where the joint is not there, or the
/// path runs off the skin.
Result<std::vector<Amount>> amountsAt(const Subject& subject, const Shares& now, const MendPlace& place);

} // namespace hobble
