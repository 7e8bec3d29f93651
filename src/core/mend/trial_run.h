#pragma once
// A trial measured on its build while it is made: first the weights, then the motion that is looked at, then
// every motion a change can be seen in, and last what each step did to the trouble. What no change touches is
// taken from the build's own run, and what was measured of a state is kept, so that going back to it is free.
#include "core/mend/effect.h"
#include "core/mend/mended.h"
#include "core/mend/trial.h"
#include "core/run/measured_memory.h"

#include <deque>
#include <mutex>
#include <set>

namespace hobble {

/// The build with a trial's steps taken.
struct TrialState {
    Trial trial;
    std::vector<StepEffect> effects;        // one for each step
    std::shared_ptr<const Subject> subject; // the build's own where nothing is changed
    bool movesJoints = false;
};

struct TrialMeasured {
    ComparedSide now; // run on the whole plan
    MendEffect effect;
    std::size_t motions = 0; // measured again
};

class TrialRun {
public:
    /// `run` is the build's, of `plan` as it was asked for; `known` has what was measured for it and outlives
    /// this.
    TrialRun(std::shared_ptr<const Subject> build, Plan plan, std::shared_ptr<const RunResult> run,
             MeasuredStore& known);

    const std::shared_ptr<const Subject>& build() const { return build_; }
    const std::shared_ptr<const RunResult>& run() const { return run_; }
    const Plan& plan() const { return plan_; }
    MeasuredMemory& memory() { return memory_; } // of trials; thread-safe
    /// The build with its own mirror. Worked out at the first asking, on whichever thread that is;
    /// thread-safe.
    const Pairing& across();

    /// Unfinished after a stop. The list is worked out again from the first step that is another one.
    TrialState make(const Trial& trial, const Progress& progress = {});
    /// One motion of the plan, and the same of the other side, for what is told of both; no run where the
    /// plan has no such motion.
    ComparedSide measure(const TrialState& state, const std::string& motion, const RunOptions& options);
    /// All of it; the run is cancelled where it was stopped, and the effect then says nothing.
    TrialMeasured measure(const TrialState& state, const CureGoal& goal, const RunOptions& options);
    /// Per step of the list, the share of the goal's trouble that it takes away from what the steps before it
    /// left, of all there was; 0 for what is off or does not apply. Empty where the goal has no signs, or
    /// after a stop.
    std::vector<double> shares(const Trial& trial, const CureGoal& goal, const RunOptions& options);

private:
    Plan part(const std::set<int>& motions) const;
    RunResult runOn(const TrialState& state, const Plan& plan, RunOptions options, std::size_t* again);

    std::shared_ptr<const Subject> build_;
    Plan plan_;
    std::shared_ptr<const RunResult> run_;
    MeasuredStore& known_;
    MeasuredMemory memory_;
    std::deque<std::string> remembered_; // hashes memory_ has, the newest last
    TriedSteps tried_, heads_;           // heads_: the list up to a step
    std::once_flag acrossOnce_;
    Pairing across_;
};

/// How much each joint has of these vertices, the mean over them, most first; joints with less than `least`
/// left out.
std::vector<Share> meanShares(const Subject& subject, const std::vector<std::uint32_t>& vertices,
                              double least = 0.005);

} // namespace hobble
