#pragma once
// A character made ready and run on its own plan, to be laid over another.
#include "core/compare/differences.h"
#include "core/pose/motion.h"
#include "core/run/run.h"

namespace hobble::demo {

inline ComparedSide comparedSide(Character c) {
    ComparedSide out;
    out.subject =
        std::make_shared<const Subject>(prepareSubject(std::make_shared<const Character>(std::move(c))));
    out.run = std::make_shared<const RunResult>(
        runPlan(*out.subject, defaultPlan(*out.subject->character, out.subject->roles)));
    return out;
}

} // namespace hobble::demo
