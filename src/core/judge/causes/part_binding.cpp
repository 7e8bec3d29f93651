// A rigid part that nothing moves, or that several joints hold.
#include "core/judge/causes/case.h"

#include <algorithm>
#include <map>

namespace hobble {

void askPartBinding(const Case& c, Causes& found) {
    const Finding& f = c.finding;
    if (f.kind == Kind::UnboundPart)
        found.push_back({CauseKind::PartNotBound, 1, fact::NothingMovesIt{c.part()}});
    const SkinWeights& w = c.subject.surface.weights;
    std::map<int, double> held;
    double total = 0;
    for (const RigidPart& r : c.subject.rigid) {
        if (!r.bound || f.marks.empty() || r.part != c.part())
            continue;
        for (std::uint32_t v : c.marked)
            for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i) {
                held[w.joint[i]] += static_cast<double>(w.weight[i]);
                total += static_cast<double>(w.weight[i]);
            }
    }
    if (held.size() < 2 || total <= 0)
        return;
    std::vector<std::pair<double, int>> most;
    for (const auto& [j, sum] : held)
        most.push_back({-sum / total, j});
    std::sort(most.begin(), most.end());
    constexpr double itself = 1.0,
                     besides = 0.9; // whether the finding is about the part's bending, or shows there too
    found.push_back(
        {CauseKind::PartBoundSoftly, f.kind == Kind::SoftRigidPart ? itself : besides,
         fact::HeldByTwo{c.part(), most[0].second, most[1].second, -most[0].first, -most[1].first}});
}

} // namespace hobble
