#pragma once
// A character made ready and run on its own plan, to be laid over another.
#include "core/compare/differences.h"
#include "core/pose/motion.h"
#include "core/run/run.h"
#include "io/character_read.h"
#include "zoo/flesh.h"

#include <map>

namespace hobble::demo {

inline ComparedSide comparedSide(Character c) {
    ComparedSide out;
    out.subject =
        std::make_shared<const Subject>(prepareSubject(std::make_shared<const Character>(std::move(c))));
    out.run = std::make_shared<const RunResult>(
        runPlan(*out.subject, defaultPlan(*out.subject->character, out.subject->roles)));
    return out;
}

/// The characters recipes name, as they are without faults: of the zoo, or of demo/data below the folder one
/// stands in. Each is run once.
class CleanSides {
public:
    Result<ComparedSide> of(const std::string& name) {
        if (const auto known = sides_.find(name); known != sides_.end())
            return known->second;
        auto stranger = zoo::strangerCalled(name);
        auto c =
            stranger ? Result<Character>(std::move(*stranger)) : readCharacter("demo/data/" + name + ".glb");
        if (!c)
            return Error{c.error()};
        return sides_.emplace(name, comparedSide(std::move(*c))).first->second;
    }

private:
    std::map<std::string, ComparedSide> sides_;
};

} // namespace hobble::demo
