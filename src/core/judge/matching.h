#pragma once
// The same fault found again, in another run or another build of the character: by joint, kind and place.
// Vertices and triangles may have been put in another order or made anew, and the character may stand
// elsewhere, so the place is told from the joint, in the directions of the body, in body heights.
#include "core/judge/findings.h"

namespace hobble {

struct FindingMark {
    std::string joint; // its name
    Kind kind = Kind::Stretch;
    Vec3d place = Vec3d::Zero(); // left, up and forward of the joint in neutral, / body height
    double reach = 0;            // how far the marked skin goes from there, / body height
};

FindingMark markOf(const Subject& subject, const Finding& finding);

/// How far apart two marks are, as a share of what still counts as one place: at most 1 is a match; infinite
/// when joint or kind differ.
double apartness(const FindingMark& a, const FindingMark& b);

/// For each of `now` its counterpart in `before`, or -1. Nearest first; each is given away once.
std::vector<int> matchFindings(const std::vector<FindingMark>& now, const std::vector<FindingMark>& before);

} // namespace hobble
