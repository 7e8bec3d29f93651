#pragma once
// Signed volume of a piece of surface by the divergence theorem (Zhang and Chen 2001, "Efficient Feature
// Extraction for 2D/3D Objects in Mesh Representation"), its boundary loops closed by a fan about each loop's
// centroid. The loops are found once, on the neutral surface, so that neutral and posed are closed by the
// same fan.
#include "core/character/surface.h"
#include "core/result.h"

namespace hobble {

struct ClosedVolume {
    std::vector<std::uint32_t> triangles; // of the surface
    std::vector<std::vector<std::uint32_t>>
        loops;          // welded vertices, in the order of the triangles' own edges
    double neutral = 0; // m³

    bool operator==(const ClosedVolume&) const = default;
};

/// Of a piece's rim, the most that may be the surface's own opening: half a tube, whose sides are open all
/// along, has two thirds. Of skin that is whole but for small openings (eyes, mouth, a neck below a collar)
/// more: what it encloses is not in doubt.
inline constexpr double kMostOpenRim = 0.4, kMostOpenRimOfSkin = 0.9;

/// Fails, saying why, where the piece cannot be closed: an open border cut across, faces turned about, or a
/// sheet with nothing inside.
Result<ClosedVolume> closeVolume(const Surface& surface, std::vector<std::uint32_t> triangles,
                                 const std::vector<Vec3>& neutral, double mostOpen = kMostOpenRim);

/// Per shell the area of its openings, as flat as they are, over its own: 0 where it is closed, infinite
/// where nothing is inside. What has less than three hundredths is skin, not a sheet.
std::vector<double> openShares(const Surface& surface, const std::vector<Vec3>& neutral);
inline constexpr double kMostOpenShell = 0.03;

/// m³; positive when the triangles face outwards.
double volumeOf(const Surface& surface, const ClosedVolume& closed, const std::vector<Vec3>& positions);

/// How often the closed piece winds about a point: 1 inside, 0 outside (solid angles: Van Oosterom and
/// Strackee 1983, "The Solid Angle of a Plane Triangle"; Jacobson, Kavan, Sorkine-Hornung 2013).
double windingNumber(const Surface& surface, const ClosedVolume& closed, const std::vector<Vec3>& positions,
                     const Vec3d& point);

} // namespace hobble
