#pragma once
// The main job: a plan on a character, every measure at every step, judged and merged into findings. Parallel
// over motions; the result is the same to the bit whatever the number of threads. What was measured can be
// kept in a store: the same motion on the same build is then not measured again, so that an interrupted run
// goes on where it stopped and changed limits are judged at once.
#include "core/deform/deformer.h"
#include "core/judge/faults.h"
#include "core/pose/motion.h"

#include <atomic>
#include <functional>

namespace hobble {

struct JointStep { // one joint's zone at one step
    int joint = -1;
    ZoneMeasures measures;
};

struct StepResult {
    double at = 0;                 // in the unit of the motion
    std::vector<JointStep> joints; // one per turn of the motion, in its order
};

struct MotionResult {
    std::vector<StepResult> steps;
};

struct RunProgress {
    std::size_t done = 0, total = 0; // poses
    double secondsLeft = 0;          // from the pace so far
};

/// Where measurements are kept: found again by build, method, motion and floors. Used from several threads.
class MeasuredStore {
public:
    virtual ~MeasuredStore() = default;
    /// Null when there is none, or none that can be read.
    virtual std::shared_ptr<const MeasuredMotion> find(const Character& character, Skinning method,
                                                       const Motion& motion, const Floors& floors) = 0;
    /// `measured` has the steps in their order, and behind them those that refining asked for.
    virtual void keep(const Character& character, Skinning method, const Motion& motion, const Floors& floors,
                      std::shared_ptr<const MeasuredMotion> measured) = 0;
};

struct RunResult;

struct RunOptions {
    Skinning method = Skinning::Linear;
    Limits limits = Limits::standard();
    int threads = 0;     // 0: all cores
    bool contact = true; // the dearest measure can be left out; what is kept in a store always has it
    bool causes = true;  // without, findings say nothing of why, and are not gathered as faults
    std::function<void(const RunProgress&)> progress; // called from any thread, never two at once
    /// Called with each motion in the plan's order as it is finished, from any thread, never two at once.
    std::function<void(std::size_t motion, const MotionResult&)> finished;
    const std::atomic<bool>* cancel = nullptr; // looked at several times in every pose
    MeasuredStore* store = nullptr;
    std::shared_ptr<const RunResult>
        before; // of the same character: causes known already are not asked again
};

struct RunResult {
    Plan plan;
    Skinning method = Skinning::Linear;
    Limits limits;
    std::vector<MotionResult> motions; // as in the plan; a cancelled run has only the motions it finished
    std::vector<Finding> findings;     // worst first; those of a cancelled run have no causes yet
    std::vector<Fault> faults;         // what they are the signs of, most urgent first
    std::size_t posesMeasured = 0;     // of the plan's; the others came from the store
    std::size_t posesRefined = 0; // measured besides, around onsets; the plan here has them among its steps
    bool cancelled = false;
    double seconds = 0;
};

/// Where a motion's findings start and where their worst is; −1 each when it has none.
std::pair<double, double> onsetAndPeak(const RunResult& run, int motion);

RunResult runPlan(const Subject& subject, const Plan& plan, const RunOptions& options = {});

} // namespace hobble
