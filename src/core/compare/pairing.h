#pragma once
// The skin of one character found again on another: a later build with its mesh in another order, subdivided,
// decimated or edited; the other side of the same body; another character altogether.
//
// Each welded vertex is laid where it would be on the other (the same place; its mirror; limb coordinates),
// and the nearest place there is taken: near in position, then facing alike, then of the part that answers
// its own, then moved by the same joints. Our own: a nearest place needs no correspondence of vertices, so
// that it holds for every kind of re-meshing alike; what is exact (the same mesh, in any order) comes out
// exact.
#include "core/compare/joint_pairing.h"

namespace hobble {

/// A place on a surface.
struct SkinPlace {
    static constexpr std::uint32_t kNone = ~0u;
    std::uint32_t triangle = kNone; // of the surface; kNone: nothing there answers
    std::array<float, 3> share{};   // of its corners, together 1
    float apart = 0;                // metres, in neutral, from where the vertex was laid

    bool there() const { return triangle != kNone; }
};

enum class PairedBy { SamePlace, Mirror, Limbs };

struct Pairing {
    PairedBy by = PairedBy::SamePlace;
    JointPairing joints;
    std::vector<SkinPlace> place; // per welded vertex of one, on the other
    std::vector<int> partOf;      // per part of one the other's that answers it; −1: it is new, or gone
    double found = 0;             // share of one's skin, by area, that has a counterpart
    /// Both have the same triangles between vertices at the same places, in one order or another.
    bool sameMesh = false;
};

/// `one` found on `other`. What comes back after a stop is unfinished.
Pairing pairSkin(const Subject& one, const Subject& other, const Progress& progress = {});

/// Each side of a body found on the other.
Pairing pairMirrored(const Subject& subject, const Progress& progress = {});

/// The welded vertex of the other nearest to a vertex's place; SkinPlace::kNone where there is none.
std::uint32_t twinOf(const Pairing& pairing, const Subject& other, std::uint32_t vertex);

/// Triangles of `other` whose corners lie, by more than half, in a patch of `one`. `back` is `other` found on
/// `one`; `triangles` are ascending, and so is what comes back.
std::vector<std::uint32_t> carriedOver(const Pairing& back, const Subject& other,
                                       const std::vector<std::uint32_t>& triangles);

/// What stands per welded vertex of the other, brought to one's; `without` where there is no counterpart.
std::vector<float> broughtOver(const Pairing& pairing, const Subject& other, const std::vector<float>& values,
                               float without);

} // namespace hobble
