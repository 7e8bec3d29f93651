#pragma once
// One plan over a build and its variants: what only a variant shows is what one wants to know.
#include "core/character/variant.h"
#include "core/run/run.h"

namespace hobble {

struct VariantRun {
    const Variant* variant = nullptr; // null: the build itself
    const Subject& subject;
    const RunResult& run;
    std::vector<int> fresh; // findings the build itself does not have
};

/// The build first, then each variant in turn; `each` is told of those that were finished. `options.progress`
/// counts over all of them.
void runVariants(const std::shared_ptr<const Character>& build,
                 const std::map<std::string, RoleCorrection>& corrections,
                 const std::vector<Variant>& variants, const Plan& plan, const RunOptions& options,
                 const std::function<void(const VariantRun&)>& each);

} // namespace hobble
