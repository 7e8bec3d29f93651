#pragma once
// Two runs of one plan laid over each other: per joint, motion and measure whether the second is better, the
// same or worse than the first, and by how much. In trouble (1 is the first limit), so that measures can be
// put in one order. The same is what re-meshing alone changes: `bandOf` says how much, docs/compare.md how
// that was measured. Our own.
#include "core/compare/pairing.h"
#include "core/run/trouble_curve.h"

namespace hobble {

enum class Change { Same, Better, Worse };

/// What is compared: a build, a variant of it, a skinning method, another character. Sides: [0] before, [1]
/// now.
struct ComparedSide {
    std::shared_ptr<const Subject> subject;
    std::shared_ptr<const RunResult> run;
};
using ComparedSides = std::array<ComparedSide, 2>;

/// Trouble by which a kind may differ between two meshes of one build where the worse of both has that much.
double bandOf(Kind kind, double trouble);
/// Of a curve of one kind, or of the worst of all: then the widest.
inline double bandOf(std::optional<Kind> kind, double trouble) {
    return bandOf(kind.value_or(Kind::VolumeLoss), trouble);
}
/// How far a curve that is near its limit goes beyond what another shows and its band, in trouble; 0 where
/// nowhere. Where the other did not go, nothing is compared.
double beyondBand(const TroubleCurve& curve, const TroubleCurve& other, std::optional<Kind> kind);

/// One measure of one joint along one motion.
struct MeasureChange {
    Kind kind = Kind::Stretch;
    std::array<int, 2> motion{-1, -1}, joint{-1, -1}; // in each side's plan and skeleton
    std::array<double, 2> peak{}, trouble{};          // the value farthest from unchanged, and its trouble
    std::array<double, 2> onset{-1, -1}; // where it first passes its limit; −1 when it does not
    std::array<double, 2>
        over{};        // area over the limit, as a share of the range: trouble beyond 1, averaged over it
    double change = 0; // of trouble, where it differs most by what counts: positive is worse
    double at = 0;     // where that is, in the motion's unit
    Change verdict = Change::Same;
};

struct MotionChange {
    std::array<int, 2> motion{-1, -1};
    double change = 0; // of the measure that differs most
    Change verdict = Change::Same;
    bool mixed = false; // something changed the other way, too
};

struct JointChange {
    std::array<int, 2> joint{-1, -1};
    double change = 0; // of the measure that differs most, and gives the verdict
    Change verdict = Change::Same;
    bool mixed = false;
    std::vector<std::size_t> measures; // of Differences::measures, most changed first; those that changed
};

struct Differences {
    std::vector<MeasureChange> measures;  // every one that both sides define
    std::vector<MotionChange> motions;    // that both ran, in the second plan's order
    std::vector<JointChange> joints;      // that both measured, in the second skeleton's order
    std::vector<int> onlyBefore, onlyNow; // motions, in the plan of the side that has them
    std::size_t undefined = 0;            // measures defined on one side alone

    /// Of the joints; of those that are better in one thing and worse in another, none.
    int count(Change verdict) const;
    int countMixed() const;
};

struct CompareOptions {
    Limits limits = Limits::standard();
    bool mirrored = false; // both sides are one run: left before, right now
};

/// `joints`: per joint of the second side (now) the first's, as pairJoints(now, before) gives it.
Differences compareRuns(const ComparedSides& sides, const JointPairing& joints,
                        const CompareOptions& options = {});

/// The measure on both sides where it differs most.
std::array<double, 2> valuesWhereItDiffers(const ComparedSides& sides, const MeasureChange& change,
                                           const Limits& limits);

/// A measure of a joint along its motion, on one side, to be drawn or put into a table.
MeasureLine lineOf(const ComparedSide& side, int motion, int joint, Kind kind, const Limits& limits);

} // namespace hobble
