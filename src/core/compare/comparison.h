#pragma once
// Two sides compared, with all that a page, a report or a pipeline asks of it.
#include "core/compare/differences.h"
#include "core/compare/skin_difference.h"

namespace hobble {

/// What the two sides are to each other.
enum class Versus { Build, Itself, Variant, Method, LeftAndRight, Character };

struct Comparison {
    ComparedSides sides; // [0] before, [1] now
    Versus versus = Versus::Build;
    Pairing onBefore, onNow; // now found on before, and before on now
    Differences differences;
    NeutralDifference neutral; // of now, against before
    bool mirrored() const { return versus == Versus::LeftAndRight; }
};

struct ComparisonOptions {
    Limits limits = Limits::standard();
    Versus versus = Versus::Build; // Build becomes Itself or Character where that is what they are
    bool skin = true;              // pair the skins, too; without, both pairings have joints alone
};

/// Of runs that are there. Unfinished after a stop.
Comparison compare(const ComparedSides& sides, const ComparisonOptions& options = {},
                   const Progress& progress = {});

/// What is odd about the two, in words; empty when nothing is: other units, another character by mistake.
std::vector<std::string> notesOn(const Comparison& comparison);

/// "Better at 9 joints, worse at 1 (right elbow), the same at 41."
std::string sentence(const Comparison& comparison);

/// "214 vertices lie elsewhere, by up to 61 mm; weights differ at 1,204; 1 part has no counterpart (coat)."
std::string skinSentence(const Comparison& comparison);

} // namespace hobble
