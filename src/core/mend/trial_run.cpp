#include "core/mend/trial_run.h"

#include "core/mend/touched.h"

#include <algorithm>

namespace hobble {

TrialRun::TrialRun(std::shared_ptr<const Subject> build, Plan plan, std::shared_ptr<const RunResult> run,
                   MeasuredStore& known)
    : build_(std::move(build)), plan_(std::move(plan)), run_(std::move(run)), known_(known), tried_(build_),
      heads_(build_) {}

namespace {

TrialState stateOf(TriedSteps& tried, const Trial& trial, const Progress& progress) {
    tried.take(trial);
    TrialState out;
    out.trial = trial;
    out.effects = tried.effects();
    bool changed = false;
    for (const StepEffect& e : out.effects) {
        out.movesJoints |= e.skeleton;
        changed |= e.any();
    }
    const Subject& build = tried.subject();
    if (changed)
        if (auto mended = tried.character(); mended->hash != build.character->hash)
            out.subject = mendedSubject(build, std::move(mended), out.movesJoints, progress);
    return out;
}

} // namespace

const Pairing& TrialRun::across() {
    std::call_once(acrossOnce_, [this] { across_ = pairMirrored(*build_); });
    return across_;
}

TrialState TrialRun::make(const Trial& trial, const Progress& progress) {
    TrialState out = stateOf(tried_, trial, progress);
    if (!out.subject)
        out.subject = build_;
    return out;
}

RunResult TrialRun::runOn(const TrialState& state, const Plan& plan, RunOptions options, std::size_t* again) {
    const std::string& hash = state.subject->character->hash;
    constexpr std::size_t most = 24; // states whose measurements are kept
    if (state.subject != build_ &&
        std::find(remembered_.begin(), remembered_.end(), hash) == remembered_.end()) {
        remembered_.push_back(hash);
        if (remembered_.size() > most) {
            memory_.forget(remembered_.front());
            remembered_.pop_front();
        }
    }
    const Plan turned = turnedAlike(plan, *build_->character, *state.subject->character);
    if (state.subject == build_) {
        options.store = &known_;
        return runPlan(*build_, turned, options);
    }
    TouchedStore store(build_, *state.subject, turned, known_, &memory_);
    if (again)
        *again = store.touched();
    options.store = &store;
    return runPlan(*state.subject, turned, options);
}

Plan TrialRun::part(const std::set<int>& motions) const {
    Plan out;
    out.name = plan_.name;
    out.refineTo = plan_.refineTo;
    for (int m : motions) {
        out.motions.push_back(plan_.motions[static_cast<std::size_t>(m)]);
        out.motions.back().on = true;
    }
    return out;
}

ComparedSide TrialRun::measure(const TrialState& state, const std::string& motion,
                               const RunOptions& options) {
    const int m = plan_.find(motion);
    if (m < 0)
        return {state.subject, nullptr};
    std::set<int> motions{m};
    if (const int other = otherSideOf(plan_, m); other >= 0)
        motions.insert(other);
    return {state.subject, std::make_shared<const RunResult>(runOn(state, part(motions), options, nullptr))};
}

TrialMeasured TrialRun::measure(const TrialState& state, const CureGoal& goal, const RunOptions& options) {
    TrialMeasured out;
    if (state.subject == build_) {
        out.now = {build_, run_};
    } else {
        auto run = std::make_shared<const RunResult>(runOn(state, plan_, options, &out.motions));
        out.now = {state.subject, run};
        if (run->cancelled)
            return out;
    }
    out.effect = effectOf({build_, run_}, out.now, goal, options.limits);
    return out;
}

std::vector<double> TrialRun::shares(const Trial& trial, const CureGoal& goal, const RunOptions& options) {
    if (goal.signs.empty())
        return {};
    std::set<int> motions; // its signs are seen in, and those of the other side
    for (int i : goal.signs)
        for (int m : run_->findings[static_cast<std::size_t>(i)].motions)
            if (const int at = plan_.find(run_->plan.motions[static_cast<std::size_t>(m)].id); at >= 0) {
                motions.insert(at);
                if (const int other = otherSideOf(plan_, at); other >= 0)
                    motions.insert(other);
            }
    const Plan shown = part(motions);
    std::vector<double> out;
    double left = 1;
    Trial head = trial;
    head.steps.clear();
    for (const Step& step : trial.steps) {
        head.steps.push_back(step);
        const Progress progress{options.cancel, {}};
        TrialState state = stateOf(heads_, head, progress);
        if (progress.stopped()) // what was being prepared is unfinished, and nothing can be run on it
            return {};
        if (!state.subject)
            state.subject = build_;
        double now = left;
        if (state.effects.back().any()) {
            const ComparedSide side{state.subject,
                                    std::make_shared<const RunResult>(runOn(state, shown, options, nullptr))};
            if (side.run->cancelled)
                return {};
            const MendEffect effect = effectOf({build_, run_}, side, goal, options.limits);
            now = effect.troubleWas > 0 ? effect.troubleIs / effect.troubleWas : left;
        }
        out.push_back(left - now);
        left = now;
    }
    return out;
}

std::vector<Share> meanShares(const Subject& subject, const std::vector<std::uint32_t>& vertices,
                              double least) {
    std::vector<double> by(subject.character->skeleton.name.size(), 0);
    const SkinWeights& w = subject.surface.weights;
    for (std::uint32_t v : vertices)
        for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i)
            by[w.joint[i]] += static_cast<double>(w.weight[i]);
    std::vector<Share> out;
    for (std::size_t j = 0; j < by.size(); ++j)
        if (const double mean = vertices.empty() ? 0 : by[j] / static_cast<double>(vertices.size());
            mean >= least)
            out.push_back({static_cast<std::uint16_t>(j), mean});
    std::stable_sort(out.begin(), out.end(), [](const Share& a, const Share& b) { return a.by > b.by; });
    return out;
}

} // namespace hobble
