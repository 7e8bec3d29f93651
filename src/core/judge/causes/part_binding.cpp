// A rigid part that nothing moves, or that several joints hold.
#include "core/judge/causes/case.h"

#include <algorithm>
#include <map>

namespace hobble {

void askPartBinding(const Case& c, Causes& found) {
    const Finding& f = c.finding;
    if (f.kind == Kind::UnboundPart)
        found.push_back({CauseKind::PartNotBound, 1, fact::NothingMovesIt{c.part()}});
    // Shell by shell: a row of buttons, each on a joint of its own, is not one joint's, and need not be. Told
    // is the one that is held by most joints.
    const SkinWeights& w = c.subject.surface.weights;
    std::map<std::int64_t, std::map<int, double>> byShell;
    for (const RigidPart& r : c.subject.rigid) {
        if (!r.bound || f.marks.empty() || r.part != c.part())
            continue;
        for (std::uint32_t v : c.marked)
            for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i)
                byShell[c.subject.surface.shellOf[v]][w.joint[i]] += static_cast<double>(w.weight[i]);
    }
    std::vector<std::pair<double, int>> most; // share, negative, and joint
    for (const auto& [shell, held] : byShell) {
        double total = 0;
        for (const auto& [j, sum] : held)
            total += sum;
        std::vector<std::pair<double, int>> here;
        for (const auto& [j, sum] : held)
            here.push_back({-sum / total, j});
        std::sort(here.begin(), here.end());
        if (most.empty() || here.front().first > most.front().first)
            most = std::move(here);
    }
    if (most.size() < 2)
        return;
    constexpr double itself = 1.0,
                     besides = 0.9; // whether the finding is about the part's bending, or shows there too
    found.push_back(
        {CauseKind::PartBoundSoftly, f.kind == Kind::SoftRigidPart ? itself : besides,
         fact::HeldByTwo{c.part(), most[0].second, most[1].second, -most[0].first, -most[1].first}});
}

} // namespace hobble
