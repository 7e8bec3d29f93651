#pragma once
// Shares of bones over a surface as the equilibrium of heat (Baran and Popović 2007, "Automatic Rigging and
// Animation of 3D Characters", section 4).
#include "core/mend/shares.h"

#include <span>

namespace hobble {

/// The bone a vertex is warmed by, and how far it is.
struct HeatHome {
    int joint = 0;
    double distance = 0; // metres
};

/// For the vertices `where` (ascending, each with its `home`), a row each; triangles with a corner elsewhere
/// are left out, and nothing flows over that border. `reach` is how far a share fades, in the vertex's
/// distance to its bone: below 1 farther. Shares under a thousandth are dropped.
std::vector<ShareRow> heatShares(std::span<const Triangle> triangles, std::span<const Vec3> position,
                                 const std::vector<std::uint32_t>& where, const std::vector<HeatHome>& home,
                                 double reach);

} // namespace hobble
