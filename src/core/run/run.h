#pragma once
// The main job: a plan on a character, every measure at every step, judged and merged into findings. Parallel
// over poses; the result is the same to the bit whatever the number of threads.
#include "core/deform/deformer.h"
#include "core/judge/findings.h"
#include "core/pose/motion.h"

#include <atomic>
#include <functional>

namespace hobble {

struct JointStep { // one joint's zone at one step
    int joint = -1;
    ZoneMeasures measures;
};

struct StepResult {
    double degrees = 0;
    std::vector<JointStep> joints; // one per turn of the motion, in its order
};

struct MotionResult {
    std::vector<StepResult> steps;
};

struct RunProgress {
    std::size_t done = 0, total = 0; // poses
    double secondsLeft = 0;          // from the pace so far
};

struct RunOptions {
    Skinning method = Skinning::Linear;
    Limits limits = Limits::standard();
    int threads = 0;                                  // 0: all cores
    std::function<void(const RunProgress&)> progress; // called from any thread, never two at once
    const std::atomic<bool>* cancel = nullptr;        // looked at before every pose
};

struct RunResult {
    Plan plan;
    Skinning method = Skinning::Linear;
    Limits limits;
    std::vector<MotionResult> motions; // as in the plan; a cancelled run has only the motions it finished
    std::vector<Finding> findings;     // worst first
    bool cancelled = false;
    double seconds = 0;
};

RunResult runPlan(const Subject& subject, const Plan& plan, const RunOptions& options = {});

} // namespace hobble
