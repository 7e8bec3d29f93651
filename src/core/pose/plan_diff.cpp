#include "core/pose/plan_diff.h"

#include <cmath>

namespace hobble {

namespace {

bool sameSteps(const Motion& a, const Motion& b) {
    if (a.steps.size() != b.steps.size())
        return false;
    for (std::size_t i = 0; i < a.steps.size(); ++i)
        if (std::abs(a.steps[i] - b.steps[i]) > 1e-6)
            return false;
    return true;
}

bool samePose(const Motion& a, const Motion& b) {
    if (a.turns.size() != b.turns.size() || a.targets.size() != b.targets.size() || !a.keys != !b.keys)
        return false;
    for (std::size_t i = 0; i < a.turns.size(); ++i)
        if (a.turns[i].joint != b.turns[i].joint || !a.turns[i].axis.isApprox(b.turns[i].axis, 1e-6) ||
            std::abs(a.turns[i].share - b.turns[i].share) > 1e-9)
            return false;
    for (std::size_t i = 0; i < a.targets.size(); ++i)
        if (a.targets[i].part != b.targets[i].part || a.targets[i].target != b.targets[i].target ||
            std::abs(a.targets[i].perUnit - b.targets[i].perUnit) > 1e-12)
            return false;
    return !a.keys || a.frames == b.frames;
}

} // namespace

std::vector<PlanChange> planChanges(const Plan& before, const Plan& after) {
    using What = PlanChange::What;
    std::vector<PlanChange> out;
    for (const Motion& m : after.motions) {
        const int at = before.find(m.id);
        if (at < 0) {
            out.push_back({What::Added, m.id, wordsFor(m) + " is new"});
            continue;
        }
        const Motion& was = before.motions[static_cast<std::size_t>(at)];
        if (was.on != m.on)
            out.push_back({m.on ? What::SwitchedOn : What::SwitchedOff, m.id,
                           wordsFor(m) + (m.on ? " is tested again" : " is no longer tested")});
        if (!samePose(was, m))
            out.push_back(
                {What::Pose, m.id, wordsFor(m) + (m.keys ? " has other frames" : " is another pose")});
        if (std::abs(was.limit() - m.limit()) > 1e-6)
            out.push_back({What::Range, m.id,
                           wordsFor(m) + " goes to " + wordsFor(m, m.limit()) + " instead of " +
                               wordsFor(was, was.limit())});
        else if (!sameSteps(was, m))
            out.push_back({What::Steps, m.id,
                           wordsFor(m) + " has " + std::to_string(m.steps.size()) + " steps instead of " +
                               std::to_string(was.steps.size())});
    }
    for (const Motion& m : before.motions)
        if (after.find(m.id) < 0)
            out.push_back({What::Removed, m.id, wordsFor(m) + " is gone"});
    return out;
}

} // namespace hobble
