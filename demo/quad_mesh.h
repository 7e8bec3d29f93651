#pragma once
// A cage of quads built the way a modeller builds: tubes of rings, patches opened and drawn out into limbs,
// ends closed by grids; then subdivided once (Catmull and Clark 1978, "Recursively Generated B-Spline
// Surfaces on Arbitrary Topological Meshes") and settled onto the flesh. Rings run around the limbs, so every
// joint bends across whole edge loops.
#include "implicit.h"

#include <array>
#include <cmath>

namespace hobble::demo {

using Ring = std::vector<int>;   // vertices, counter-clockwise seen from the side it is drawn out to
using Quad = std::array<int, 4>; // facing outwards
using Rows = std::vector<std::vector<int>>; // quads of a tube: [between rings r and r + 1][column]

struct QuadMesh {
    std::vector<Vec3d> at;
    std::vector<char> held; // per vertex: keeps its place, is not pulled onto the flesh
    std::vector<Quad> quads;
    std::vector<int> label; // per quad: which limb it was drawn as; -1 once removed

    Ring add(const std::vector<Vec3d>& points, bool hold = false);
    /// Quads between two rings of equal size, as one row.
    std::vector<int> stitch(const Ring& from, const Ring& to, int limb);
    /// Closes a ring of 2·(a + b) vertices with a grid of a × b quads; the ring starts at a corner, a side
    /// first.
    Rows close(const Ring& ring, int a, int b, int limb, bool hold = false);
    /// Removes quads and hands back the border of the hole, ready to be drawn out.
    Ring open(const std::vector<int>& patch);
    /// Joins two open borders of equal size by `between` rings in between.
    Rows bridge(const Ring& from, const Ring& other, int between, int limb);
    Vec3d centre(const Ring& ring) const;
};

/// Rows r … r + rows - 1 and columns c … c + columns - 1 (columns wrap around).
std::vector<int> patchOf(const Rows& tube, int r, int rows, int c, int columns);

/// One ring of a limb: where, along which direction, and how thick. Radii are where the flesh is looked for;
/// the ring lies on the flesh when there is any, or exactly at the radii when held.
struct Station {
    Vec3d centre;
    double rx = 0, ry = 0;     // along the frame's x and y
    double leastX = -INFINITY; // keeps one limb out of its neighbour on the other side
};

/// Draws an opened border out along stations; the frame is carried along without twist from `up`, which its y
/// follows. Each ring is looked for on the flesh outwards from its centre, no farther than its radii.
struct Drawn {
    std::vector<Ring> rings; // without the border itself
    Rows rows;
};
Drawn drawOut(QuadMesh& mesh, const Ring& border, const std::vector<Station>& stations, const Vec3d& up,
              int limb, const std::vector<Solid>* flesh);

/// A ring about a centre in the plane of x and y, on the flesh or at the radii.
std::vector<Vec3d> ringPoints(const Station& s, const Vec3d& x, const Vec3d& y, int count, double firstAngle,
                              const std::vector<Solid>* flesh);

/// Without removed quads and the vertices only they had.
QuadMesh kept(const QuadMesh& mesh);
/// Keeps the half at x ≥ 0 and mirrors it.
QuadMesh mirrored(const QuadMesh& half);
QuadMesh subdivided(const QuadMesh& cage);
/// Relaxes along the surface and pulls onto the flesh, in turns; held vertices stay.
void settle(QuadMesh& mesh, const std::vector<Solid>& flesh, int passes);

/// Per vertex the vertex at its mirror image, -1 where there is none; with `even`, first makes the right side
/// the exact image of the left.
std::vector<int> mirrorPairs(std::vector<Vec3>& at, bool even);

/// Each quad cut along its shorter diagonal.
Mesh triangulated(const QuadMesh& mesh);
/// Per vertex the least label of its quads.
std::vector<int> labels(const QuadMesh& mesh);

} // namespace hobble::demo
