#pragma once
// One plan over a build and its variants: what only a variant shows is what one wants to know.
#include "core/character/variant.h"
#include "core/run/run.h"
#include "core/run/trouble_curve.h"

namespace hobble {

struct VariantRun {
    const Variant* variant = nullptr; // null: the build itself
    const Subject& subject;
    const RunResult& run;
    std::vector<int> fresh; // faults the build itself does not have
};

/// The build first, then each variant in turn; `each` is told of those that were finished. `options.progress`
/// counts over all of them.
void runVariants(const std::shared_ptr<const Character>& build,
                 const std::map<std::string, RoleCorrection>& corrections,
                 const std::vector<Variant>& variants, const Plan& plan, const RunOptions& options,
                 const std::function<void(const VariantRun&)>& each);

/// Of each motion of the plan; empty where it was not run.
std::vector<TroubleCurve> troubleCurves(const VariantRun& run, const Limits& limits);

/// A motion that a variant does worse, or better, than the build itself.
struct VariantDifference {
    int motion = -1;   // of the plan
    int variant = 0;   // whose it is most, 1 for the first
    double change = 0; // of trouble, positive for worse: trouble_curve.h, changeSince
    double at = 0;     // where that is, in the motion's unit
};

/// Over the curves of the build and of each variant, as above: the motions in which any of them differs by
/// what counts, the largest change first.
std::vector<VariantDifference> variantDifferences(const std::vector<std::vector<TroubleCurve>>& curves);

} // namespace hobble
