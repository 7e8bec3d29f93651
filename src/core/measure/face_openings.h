#pragma once
// Openings of a face: an eye between its lids, a row of teeth behind its lips. What lies in one is a rigid
// piece; it is looked at from its own middle, along rays spread evenly: where skin lies outside of the piece
// it is covered, where none does it is bare, and where skin lies within the piece the piece comes through.
// Our own: of lids that close to a slit of a tenth of a millimetre no crossing and no distance says how much
// of the eye is seen.
#include "core/character/character.h"
#include "core/measure/triangle_tree.h"
#include "core/pose/closing_motion.h"

namespace hobble {

struct Subject;
struct MotionRegion;

/// The joint a vertex goes rigidly with: that has nine tenths of it; −1 where there is none.
int whollyCarriedBy(const SkinWeights& weights, std::uint32_t vertex);

struct FaceOpening {
    Closes closedBy = Closes::Eyes; // motions that are to close it: an eye, or what lies behind lips
    Side side = Side::Middle;
    int joint = -1;                         // told at: the upper lid, a lip; else what carries the piece
    int carrier = -1;                       // the joint the piece goes with
    std::vector<std::uint32_t> inner;       // surface triangles of the piece, ascending
    std::vector<std::uint32_t> crossing;    // of these, those that go through skin in neutral: roots of teeth
    std::vector<std::uint32_t> vertices;    // welded, of the piece, ascending
    std::vector<std::uint32_t> around;      // welded, of the skin that may cover it, ascending
    TriangleTree skin;                      // over that
    Vec3 middle = Vec3::Zero();             // neutral, metres
    double radius = 0;                      // of the piece, metres
    std::vector<Vec3> directions;           // of length one, neutral: those that do not lead into the body
    std::vector<float> out;                 // per direction: from the middle to the piece's outside, metres
    std::vector<std::uint32_t> outAt;       // per direction: the vertex of the piece nearest to there
    std::vector<float> through;             // per direction: how far it stands out of skin in neutral, metres
    std::vector<std::uint32_t> bareNeutral; // directions that are bare in neutral, ascending
    bool operator==(const FaceOpening&) const = default;
};

/// Of a subject whose roles, surface and neutral pose stand ready. An eye is a ball, as nearly as such are
/// modelled (a fifth off a sphere), that one joint carries, and that has lids about it, a joint of its own,
/// or a part called so; teeth are known by the name of their part or joint.
std::vector<FaceOpening> faceOpenings(const Subject& subject);

struct OpeningMeasure {
    std::optional<double> bare;      // of what is bare in neutral the share that is bare; nothing: none was
    double through = 0;              // / radius: what three of the directions reach
    std::vector<std::uint32_t> left; // vertices of the piece that are bare, ascending
    std::vector<std::pair<std::uint32_t, float>> outside; // those that come through, and by how much / radius
};

struct OpeningScratch {
    Boxes boxes;
};

/// `posed` has one position per welded vertex.
OpeningMeasure measureOpening(const Subject& subject, const FaceOpening& opening,
                              const std::vector<Vec3>& posed, OpeningScratch& scratch);

/// Whether that is to be closed.
bool closes(const Closing& closing, const FaceOpening& opening);

/// Whether a motion moves the piece or the skin about it, one against the other.
bool moves(const MotionRegion& region, const FaceOpening& opening);

} // namespace hobble
