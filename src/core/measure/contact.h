#pragma once
// Contact: skin that goes into skin. Skin so crumpled that near neighbours facing one way go through each
// other is roughness, and not looked for here. Triangle pairs that cross now and did not in neutral, not
// sharing a vertex and not torn (drawn out to four times their length); their area, and the depth: how far a
// vertex lies inside, the way to the nearest skin seen from behind. Skin that touches skin in deep flexion
// is natural: depth counts, touch does not.
#include "core/character/surface.h"
#include "core/measure/contact_vector.h"
#include "core/measure/skin_crossing.h"
#include "core/measure/triangle_tree.h"

#include <atomic>
#include <unordered_set>

namespace hobble {

struct Subject;
struct MotionRegion;

/// What stands ready for all poses: which parts may meet, and which pairs cross already in neutral.
struct ContactSetup {
    TriangleTree tree;             // over all skin that takes part
    std::vector<Triangle> corners; // of its triangles, in its order: welded vertices
    std::vector<char> onePiece;    // per node: its triangles hang together by edges
    Lists beside; // per node: those of its depth, and of greater number, that share a vertex with it
    std::vector<std::int32_t> nodePart;             // per node: the one part it is of; -1 of several
    std::vector<std::uint32_t> partOf;              // per surface triangle
    std::vector<char> mayMeet;                      // part × part
    std::unordered_set<std::uint64_t> neutralPairs; // lesser triangle · 2³² + greater
    SkinCrossing neutral;                           // its edges, of all that crosses in neutral
    std::vector<float> neutralDepth; // per welded vertex, metres inside flesh in neutral already
};

/// Only shells with an inside to sink into: closed ones, and those whose openings (eyes, mouth, a neck) are
/// less than three hundredths of their area (`shellOpen`: openShares of volume.h). Open sheets, as garments
/// are, are poke-through's business. What comes back after a stop is unfinished.
ContactSetup prepareContact(const Surface& surface, const Character& character,
                            const std::vector<Vec3>& neutralWelded, const std::vector<double>& shellOpen,
                            double bodyHeight, const std::atomic<bool>* cancel = nullptr);

/// Per node of the tree, the one joint that moves it rigidly; -1 where there are several. What the weights
/// have to do with contact, and all that changes with them.
std::vector<std::int32_t> nodeCarriers(const Character& character, const Surface& surface,
                                       const ContactSetup& setup);

/// The one joint that moves a welded vertex; -1 where there are several, or none.
std::int32_t carrierOf(const SkinWeights& welded, std::uint32_t vertex);

struct Contact {
    std::vector<std::pair<std::uint32_t, std::uint32_t>>
        pairs;                                           // of surface triangles, lesser first, ascending
    std::vector<std::pair<std::uint32_t, float>> inside; // welded vertices and their depth, metres; ascending
    double area = 0;                                     // m², neutral, of the triangles in pairs
    float deepest = 0;
};

/// What a motion does with the triangles of a node.
enum class Goes : char { Nowhere, Along, Otherwise }; // Along: rigidly with what turns

/// All that is asked of a node on the way down the tree but its box, in a quarter of a cache line: its place
/// in the tree again, which way it faces, and why its triangles need not be tried against those of another.
struct NodeInPose {
    std::uint32_t first = 0;
    Facing facing = 0;         // directions that all its normals have in common
    std::int32_t carrier = -1; // the one joint that moves it rigidly
    std::int16_t part = -1;    // the one part it is of
    std::uint8_t count = 0;
    Goes goes = Goes::Otherwise;
};
static_assert(sizeof(NodeInPose) == 16);

/// Scratch space, reused between calls.
struct ContactScratch {
    Boxes triangleBoxes; // of its triangles, in the tree's order
    std::vector<Facing> triangleFacing;
    Boxes boxes;                   // per node
    std::vector<NodeInPose> nodes; // per node
    std::vector<FourLanes> at;     // the positions all that was made from; what has not moved is kept
    IndexPairs joined;             // triangles near each other that share a vertex
    std::uint64_t forRegion = 0;   // the id of the region the ties were found for
};

/// False when cancelled on the way.
bool contacts(const Subject& subject, const MotionRegion& region, const std::vector<Vec3>& posedWelded,
              ContactScratch& scratch, Contact& out, const std::atomic<bool>* cancel = nullptr);

} // namespace hobble
