#pragma once
// What a trial does to the numbers: of the fault it is for, and of everything else. Trouble is area over the
// limit, along the whole range of a motion (core/compare/differences.h): not only the peak counts. Our own.
#include "core/compare/differences.h"
#include "core/mend/cure_families.h"

namespace hobble {

struct MendEffect {
    // Of the sign that tells the fault, at its worst; joint −1 where the trial is for nothing in particular
    Kind kind = Kind::Stretch;
    int joint = -1, motion = -1;
    double was = 1, is = 1, limit = 1; // in the kind's own measure
    MeasureLine before, after;         // that measure along its motion

    double troubleWas = 0, troubleIs = 0; // of the fault's measures
    double allWas = 0, allIs = 0;         // of every measure of every motion
    // Harm; what the other side of the body shows as much of is none.
    std::vector<MeasureChange> worse;     // past a limit, and more of it than there was; the worst first
    std::vector<MeasureChange> elsewhere; // all that changed and is not the fault's; most changed first
    int newFindings = 0;                  // of severity 2 and more, of a kind and joint that had none

    /// The share of the fault's trouble that goes; below 0 where it grows.
    double gone() const { return troubleWas > 0 ? 1 - troubleIs / troubleWas : 0; }
    bool harms() const { return !worse.empty() || newFindings > 0; }
};

/// `before` is the build, `after` what was made of it, both run on the whole plan. A goal without signs: of
/// the whole run, its fault is all there is.
MendEffect effectOf(const ComparedSide& before, const ComparedSide& after, const CureGoal& goal,
                    const Limits& limits);

/// "stretch at forearm.R 4.64 → 1.31 (limit 1.35), 94 % of the trouble goes"
std::string sentence(const MendEffect& effect, const Subject& subject);

/// Whether a kind is told once for a whole motion, and not step by step.
bool toldOnceAMotion(Kind kind);
/// Of the goal's signs that are told once for a whole motion, by how much those still found pass their limit.
double toldOnce(const RunResult& told, const RunResult& run, const CureGoal& goal);

/// Every joint for itself: what two states of one build are to each other.
JointPairing sameJoints(const Subject& subject);

} // namespace hobble
