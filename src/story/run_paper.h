#pragma once
// A run on paper: what was tested, how it went, and its worst findings with pictures.
#include "core/exposure/exposure.h"
#include "core/run/run.h"
#include "story/review_pdf.h"

namespace hobble {

/// `most`: findings that are pictured; all of them are in the list. One of each fault, the worst first.
/// With `exposure` each says how often the show's clips go there.
ReviewPaper runPaper(std::shared_ptr<const Subject> subject, const RunResult& run, int most = 20,
                     const StoryProgress& progress = {}, const Exposure* exposure = nullptr);

} // namespace hobble
