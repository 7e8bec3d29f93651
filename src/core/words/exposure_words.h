#pragma once
// How often a show's animation goes past a place, in words.
#include "core/exposure/fault_meetings.h"

namespace hobble {

/// "past it in 41 of 52,310 frames, in 3 of 40 clips, first in run_03 frame 118"; "never reached in …"; "no
/// clip of the show moves this".
std::string wordsFor(const Exposure& exposure, const UsePast& past);

/// "3 faults meet: left elbow, left shoulder, right knee; run_03 frames 118 to 131, worst at 124"
std::string wordsFor(const Meeting& meeting, const Subject& subject, const RunResult& run);

/// "52,310"
std::string grouped(std::size_t n);

} // namespace hobble
