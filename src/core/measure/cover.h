#pragma once
// Poke-through and gap: an inner part that an outer one (an open sheet: a garment) covered in neutral comes
// out through it, or the outer one stands off. Each covered vertex keeps the place of the outer part that lay
// above it.
#include "core/character/surface.h"
#include "core/measure/triangle_tree.h"
#include "core/progress.h"

namespace hobble {

struct Subject;
struct MotionRegion;

struct Covered {
    std::uint32_t vertex = 0;   // welded, of the inner part
    std::uint32_t triangle = 0; // of the surface, of the outer part
    float height = 0;           // metres above the vertex in neutral

    bool operator==(const Covered&) const = default;
};

struct CoverSetup {
    std::vector<Covered> covered;
    std::vector<TriangleTree> trees;  // per part; empty for parts that cover nothing
    std::vector<std::uint32_t> outer; // per covered vertex, the part above it
    std::vector<char> covers;         // part × part: the first covers the second

    bool operator==(const CoverSetup&) const = default;
};

/// Whether fewer than two joints move a part: a buckle, which neither covers nor is covered. All that the
/// weights have to do with covering.
bool movesAsOne(const Character& character, std::size_t part);

/// Of a subject whose surface, neutral pose and tree stand ready; `reach` in metres. What comes back after a
/// stop is unfinished.
CoverSetup prepareCover(const Subject& subject, double reach, const Progress& progress = {});

struct Cover {
    struct Value {
        std::uint32_t vertex = 0;   // welded, of the inner part
        std::uint32_t triangle = 0; // what lay above it
        float metres = 0;
    };
    std::vector<Value> poke; // how far outside the outer part
    std::vector<Value> gap;  // how much farther the outer part stands off than in neutral
};

struct CoverScratch {
    std::vector<Boxes> boxes;
};

void cover(const Subject& subject, const MotionRegion& region, const std::vector<Vec3>& posedWelded,
           CoverScratch& scratch, Cover& out);

} // namespace hobble
