#include "core/instruction_set.h"

#include <hwy/highway.h>

namespace hobble {

namespace {

// Best first: better ones have lower bits.
std::vector<std::int64_t> targets() { return hwy::SupportedAndGeneratedTargets(); }

} // namespace

std::vector<std::string> instructionSets() {
    std::vector<std::string> out;
    for (const std::int64_t t : targets())
        out.push_back(hwy::TargetName(t));
    return out;
}

std::string instructionSet() { return hwy::TargetName(targets().front()); }

void useInstructionSet(const std::string& name) {
    hwy::SetSupportedTargetsForTest(0);
    if (!name.empty())
        for (const std::int64_t t : targets())
            if (name == hwy::TargetName(t))
                hwy::SetSupportedTargetsForTest(t);
    hwy::GetChosenTarget().Update(hwy::SupportedTargets());
}

} // namespace hobble
