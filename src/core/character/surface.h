#pragma once
// The surface the skin really is: files split vertices where texture or normals change, so neighbours,
// borders and shells are built on vertices welded by neutral position within a part. Results go back to the
// file's own vertices. All but the weights depends on the neutral mesh alone, and is shared by copies.
#include "core/character/character.h"
#include "core/progress.h"

namespace hobble {

struct Surface {
    SharedVector<std::uint32_t> weldOf;       // file vertex → welded vertex
    Lists members;                            // welded vertex → file vertices, ascending
    SharedVector<Triangle> triangles;         // welded vertices; collapsed and doubled triangles left out
    SharedVector<std::uint32_t> fileTriangle; // index in Character::triangles
    SharedVector<float> area;     // per triangle, neutral, m²; 0 for a sliver too thin to be measured
    Lists neighbours;             // welded vertex → welded vertices joined by an edge: in order around it
                                  // where its ring is whole, the least first; otherwise ascending
    SharedVector<char> wholeRing; // per welded vertex: its triangles form one closed fan, facing alike
    Lists trianglesAt;            // welded vertex → triangles
    SharedVector<std::uint32_t> shellOf; // welded vertex → shell (connected piece); each lies within one part
    std::uint32_t shellCount = 0;
    SharedVector<char> openShell; // per shell: it has a border
    /// Per welded vertex: the first that lies at the same place. Others there belong to another surface, and
    /// only touch this one.
    SharedVector<std::uint32_t> placeOf;
    SharedVector<char> touches; // per welded vertex: there are others at its place
    /// Per triangle: its corners stand in the other order than in the file, so that the skin faces outwards.
    SharedVector<char> turned;
    SkinWeights weights; // per welded vertex: the mean of its members' weights

    // What was survived and should be told.
    std::size_t degenerate = 0, doubled = 0, borderEdges = 0, nonManifoldEdges = 0, crackingWelds = 0;
    std::size_t facingIn = 0; // triangles that were turned

    bool operator==(const Surface&) const = default;
    std::size_t vertexCount() const { return members.size(); }
    std::uint32_t representative(std::uint32_t welded) const { return members.item[members.first[welded]]; }
    /// Sum of the weights a welded vertex has on the joints flagged in `in`.
    double weightOn(std::uint32_t welded, const std::vector<char>& in) const;
};

/// Vertices become one where the surface goes on across them: where triangles share an edge there. Of several
/// sheets at one edge those that are bound alike belong together, and what is bound to other joints
/// altogether is no surface with it, though it may lie flush. Skin that faces inwards is turned about.
///
/// `tolerance`, metres, is how far apart two vertices may lie to be one; 0 picks 1e-6 of the part's extent.
/// What comes back after a stop is unfinished.
Surface buildSurface(const Character& character, double tolerance = 0, const Progress& progress = {});

/// The mean of the members' weights, for each of the given welded vertices, and how many of these would
/// crack.
struct WeldedWeights {
    SkinWeights weights;
    std::size_t cracking = 0;
};
WeldedWeights weldedWeights(const Surface& surface, const SkinWeights& ofFile,
                            const std::vector<std::uint32_t>& welded);

/// Whether other weights would weld the vertices of the same mesh alike.
bool weldsAlike(const Surface& surface, const Character& reweighted);

/// One position per welded vertex out of one per file vertex.
std::vector<Vec3> weldedPositions(const Surface& surface, const std::vector<Vec3>& filePositions);
void weldedPositions(const Surface& surface, const std::vector<Vec3>& filePositions, std::vector<Vec3>& out);

} // namespace hobble
