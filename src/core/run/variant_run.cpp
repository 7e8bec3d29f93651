#include "core/run/variant_run.h"

#include "core/judge/matching.h"

#include <algorithm>
#include <cmath>

namespace hobble {

void runVariants(const std::shared_ptr<const Character>& build,
                 const std::map<std::string, RoleCorrection>& corrections,
                 const std::vector<Variant>& variants, const Plan& plan, const RunOptions& options,
                 const std::function<void(const VariantRun&)>& each) {
    const auto stopped = [&] { return options.cancel && options.cancel->load(); };
    std::vector<FindingMark> known;
    for (std::size_t i = 0; i <= variants.size() && !stopped(); ++i) {
        const Variant wanted = i > 0 ? variants[i - 1] : Variant{};
        const auto character =
            wanted.changesNothing() ? build : std::make_shared<const Character>(varied(*build, wanted));
        const Subject subject = prepareSubject(character, {options.cancel, {}}, corrections);
        if (stopped())
            return;
        RunOptions here = options;
        if (options.progress)
            here.progress = [&](const RunProgress& p) {
                options.progress({i * p.total + p.done, (variants.size() + 1) * p.total, 0});
            };
        const RunResult run = runPlan(subject, plan, here);
        if (run.cancelled)
            return;
        std::vector<FindingMark> marks;
        for (const Finding& f : run.findings)
            marks.push_back(markOf(subject, f));
        VariantRun out{i > 0 ? &variants[i - 1] : nullptr, subject, run, {}};
        if (i == 0) {
            known = std::move(marks);
        } else {
            const auto match = matchFindings(marks, known);
            for (std::size_t k = 0; k < run.faults.size(); ++k)
                if (const auto& signs = run.faults[k].signs;
                    std::all_of(signs.begin(), signs.end(),
                                [&](int sign) { return match[static_cast<std::size_t>(sign)] < 0; }))
                    out.fresh.push_back(static_cast<int>(k));
        }
        each(out);
    }
}

std::vector<TroubleCurve> troubleCurves(const VariantRun& run, const Limits& limits) {
    std::vector<TroubleCurve> out;
    for (const MotionResult& m : run.run.motions)
        out.push_back(m.steps.empty() ? TroubleCurve{} : troubleCurve(run.subject.roles, m, limits));
    return out;
}

std::vector<VariantDifference> variantDifferences(const std::vector<std::vector<TroubleCurve>>& curves) {
    std::vector<VariantDifference> out;
    const std::size_t motions = curves.empty() ? 0 : curves.front().size();
    for (std::size_t m = 0; m < motions; ++m) {
        const TroubleCurve& build = curves.front()[m];
        VariantDifference most{static_cast<int>(m)};
        for (std::size_t v = 1; v < curves.size(); ++v) {
            double at = 0;
            const double change = changeSince(build, curves[v][m], &at);
            if (std::abs(change) > std::abs(most.change))
                most = {static_cast<int>(m), static_cast<int>(v), change, at};
        }
        if (most.variant > 0)
            out.push_back(most);
    }
    std::stable_sort(out.begin(), out.end(), [](const VariantDifference& a, const VariantDifference& b) {
        return std::abs(a.change) > std::abs(b.change);
    });
    return out;
}

} // namespace hobble
