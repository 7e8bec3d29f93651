#include "core/run/result_for.h"

#include <algorithm>

namespace hobble {

namespace {

bool samePose(const Pose& a, const Pose& b) {
    const auto turns = [](const Quat& x, const Quat& y) { return x.coeffs() == y.coeffs(); };
    return std::equal(a.turn.begin(), a.turn.end(), b.turn.begin(), b.turn.end(), turns) &&
           a.shift == b.shift &&
           std::equal(a.targets.begin(), a.targets.end(), b.targets.begin(), b.targets.end(),
                      [](const TargetWeight& x, const TargetWeight& y) {
                          return x.part == y.part && x.target == y.target && x.weight == y.weight;
                      });
}

// A run has its plan's steps and those that refining added.
bool hasSteps(const Motion& run, const Motion& plan) {
    return std::all_of(plan.steps.begin(), plan.steps.end(),
                       [&](double d) {
                           return std::find(run.steps.begin(), run.steps.end(), d) != run.steps.end();
                       }) &&
           run.limit() == plan.limit();
}

} // namespace

bool sameMotion(const Motion& a, const Motion& b) {
    if (a.span != b.span || a.roll != b.roll || a.turns.size() != b.turns.size() ||
        a.targets.size() != b.targets.size() || a.shifts.size() != b.shifts.size() || !a.keys != !b.keys)
        return false;
    const auto turns = [](const JointTurn& x, const JointTurn& y) {
        return x.joint == y.joint && x.axis == y.axis && x.share == y.share;
    };
    const auto targets = [](const TargetShare& x, const TargetShare& y) {
        return x.part == y.part && x.target == y.target && x.perUnit == y.perUnit;
    };
    const auto shifts = [](const JointShift& x, const JointShift& y) {
        return x.joint == y.joint && x.perUnit == y.perUnit;
    };
    if (!std::equal(a.turns.begin(), a.turns.end(), b.turns.begin(), turns) ||
        !std::equal(a.shifts.begin(), a.shifts.end(), b.shifts.begin(), shifts) ||
        !std::equal(a.targets.begin(), a.targets.end(), b.targets.begin(), targets))
        return false;
    return !a.keys || (a.keys->size() == b.keys->size() &&
                       std::equal(a.keys->begin(), a.keys->end(), b.keys->begin(),
                                  [](const MotionKey& x, const MotionKey& y) {
                                      return x.at == y.at && samePose(x.pose, y.pose);
                                  }));
}

RunResult resultFor(const RunResult& run, const Plan& plan) {
    RunResult out = run;
    out.plan = plan;
    out.motions.assign(plan.motions.size(), {});
    std::vector<int> now(run.plan.motions.size(), -1);
    for (std::size_t m = 0; m < plan.motions.size(); ++m) {
        const int was = run.plan.find(plan.motions[m].id);
        if (was < 0)
            continue;
        const Motion& before = run.plan.motions[static_cast<std::size_t>(was)];
        if (!plan.motions[m].on || !sameMotion(before, plan.motions[m]) || !hasSteps(before, plan.motions[m]))
            continue;
        now[static_cast<std::size_t>(was)] = static_cast<int>(m);
        out.motions[m] = run.motions[static_cast<std::size_t>(was)];
        out.plan.motions[m].steps = before.steps;
    }
    const auto renumber = [&](int& motion) {
        motion = now[static_cast<std::size_t>(motion)];
        return motion < 0;
    };
    std::vector<int> place(out.findings.size(), -1); // of each finding among those that stay
    int staying = 0;
    for (std::size_t i = 0; i < out.findings.size(); ++i)
        if (!renumber(out.findings[i].motion))
            place[i] = staying++;
    std::erase_if(out.findings, [](const Finding& f) { return f.motion < 0; });
    for (Finding& f : out.findings)
        std::erase_if(f.motions, renumber);
    for (Fault& fault : out.faults) {
        for (int& sign : fault.signs)
            sign = place[static_cast<std::size_t>(sign)];
        std::erase_if(fault.signs, [](int sign) { return sign < 0; });
    }
    std::erase_if(out.faults, [](const Fault& fault) { return fault.signs.empty(); });
    for (std::size_t k = 0; k < out.faults.size(); ++k) {
        out.faults[k].severity = 0;
        for (int sign : out.faults[k].signs) {
            Finding& f = out.findings[static_cast<std::size_t>(sign)];
            f.fault = static_cast<int>(k);
            f.leads = sign == out.faults[k].signs.front();
            out.faults[k].severity = std::max(out.faults[k].severity, f.severity);
        }
    }
    return out;
}

} // namespace hobble
