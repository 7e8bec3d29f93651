#pragma once
// Contact: skin that goes into skin. Triangle pairs that cross now and did not in neutral, not sharing a
// vertex; their area, and the depth: how far a vertex lies inside, the shortest of fourteen ways out of the
// flesh. Skin that touches skin in deep flexion is natural: depth counts, touch does not.
#include "core/character/surface.h"
#include "core/measure/triangle_tree.h"

#include <unordered_set>

namespace hobble {

struct Subject;
struct MotionRegion;

/// What stands ready for all poses: which parts may meet, and which pairs cross already in neutral.
struct ContactSetup {
    TriangleTree tree;                              // over all skin that takes part
    std::vector<std::uint32_t> partOf;              // per surface triangle
    std::vector<char> mayMeet;                      // part × part
    std::unordered_set<std::uint64_t> neutralPairs; // lesser triangle · 2³² + greater
};

/// Closed shells only (`openShell`, per shell): an open sheet has no inside to sink into; garments are
/// poke-through's business.
ContactSetup prepareContact(const Surface& surface, const Character& character,
                            const std::vector<Vec3>& neutralWelded, const std::vector<char>& openShell);

struct Contact {
    std::vector<std::pair<std::uint32_t, std::uint32_t>>
        pairs;                                           // of surface triangles, lesser first, ascending
    std::vector<std::pair<std::uint32_t, float>> inside; // welded vertices and their depth, metres; ascending
    double area = 0;                                     // m², neutral, of the triangles in pairs
    float deepest = 0;
};

/// What a motion moves against what it does not; scratch space is reused between calls.
struct ContactScratch {
    Boxes boxes;
    std::vector<char> kind; // per node: 0 stays, 1 goes rigidly along, 2 anything else
    const MotionRegion* forRegion = nullptr;
};

void contacts(const Subject& subject, const MotionRegion& region, const std::vector<Vec3>& posedWelded,
              ContactScratch& scratch, Contact& out);

} // namespace hobble
