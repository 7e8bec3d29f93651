#pragma once
// A build with the steps of a trial taken, ready to be measured again, with no more work than they ask for.
#include "core/run/run.h"

namespace hobble {

/// `mended` is what the steps make of the build's character; `skeleton`: whether any of them moves a joint.
/// Where none does, only what the changed weights touch is prepared anew. Unfinished after a stop.
std::shared_ptr<const Subject> mendedSubject(const Subject& build, std::shared_ptr<const Character> mended,
                                             bool skeleton, const Progress& progress = {});

/// The same turns in space for a character some of whose joints have other axes of their own.
Plan turnedAlike(Plan plan, const Character& before, const Character& after);

/// How much of the skin is another one's: vertices and joints whose weights are not the same, the largest
/// change of a share, and all of them together.
struct WeightChange {
    std::size_t vertices = 0, joints = 0;
    double most = 0, moved = 0;
};
WeightChange weightChange(const SkinWeights& before, const SkinWeights& after);

} // namespace hobble
