#include "core/run/run.h"

#include "core/judge/causes.h"

#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include <chrono>
#include <mutex>

namespace hobble {

RunResult runPlan(const Subject& subject, const Plan& plan, const RunOptions& options) {
    using Clock = std::chrono::steady_clock;
    const auto start = Clock::now();
    auto elapsed = [&] { return std::chrono::duration<double>(Clock::now() - start).count(); };

    RunResult result{plan, options.method, options.limits, {}, {}, false, 0};
    result.motions.resize(plan.motions.size());
    std::vector<std::vector<PosePatches>> patches(plan.motions.size());
    struct Slot {
        std::size_t motion, step;
    };
    std::vector<Slot> slots;
    for (std::size_t m = 0; m < plan.motions.size(); ++m) {
        result.motions[m].steps.resize(plan.motions[m].degrees.size());
        patches[m].resize(plan.motions[m].degrees.size());
        for (std::size_t s = 0; s < plan.motions[m].degrees.size(); ++s)
            slots.push_back({m, s});
    }

    std::mutex telling;
    std::vector<std::size_t> left(plan.motions.size());
    for (std::size_t m = 0; m < left.size(); ++m)
        left[m] = plan.motions[m].degrees.size();
    std::size_t done = 0;
    auto measure = [&](const Slot& slot, std::vector<Vec3>& posed) {
        const Motion& motion = plan.motions[slot.motion];
        StepResult& step = result.motions[slot.motion].steps[slot.step];
        step.degrees = motion.degrees[slot.step];
        deform(*subject.character, poseAt(subject.character->skeleton, motion, step.degrees), options.method,
               posed);
        const std::vector<Vec3> welded = weldedPositions(subject.surface, posed);
        std::vector<Strain> strain;
        for (const JointTurn& turn : motion.turns) {
            const JointZone& zone = subject.zones[turn.joint];
            step.joints.push_back(
                {turn.joint, measureZone(subject.surface, subject.rest, zone, welded, &strain)});
            for (Patch& p : findPatches(subject, zone, step.joints.back().measures, strain, options.limits))
                patches[slot.motion][slot.step].push_back({turn.joint, std::move(p)});
        }
        const std::lock_guard lock(telling);
        ++done;
        --left[slot.motion];
        if (options.progress)
            options.progress(
                {done, slots.size(),
                 elapsed() / static_cast<double>(done) * static_cast<double>(slots.size() - done)});
    };
    tbb::task_arena arena(options.threads > 0 ? options.threads : tbb::task_arena::automatic);
    arena.execute([&] {
        tbb::parallel_for(tbb::blocked_range<std::size_t>(0, slots.size()), [&](const auto& range) {
            std::vector<Vec3> posed;
            for (std::size_t i = range.begin(); i != range.end(); ++i) {
                if (options.cancel && options.cancel->load(std::memory_order_relaxed))
                    return;
                measure(slots[i], posed);
            }
        });
    });
    for (std::size_t m = 0; m < left.size(); ++m)
        if (left[m] > 0) { // half a motion would show a false onset and peak
            result.cancelled = true;
            result.motions[m].steps.clear();
            patches[m].clear();
        }

    result.findings = mergeFindings(subject, plan, result.motions, patches, options.limits);
    arena.execute([&] {
        tbb::parallel_for(std::size_t(0), result.findings.size(), [&](std::size_t i) {
            result.findings[i].causes = likelyCauses(subject, plan, options.method, result.findings[i]);
        });
    });
    result.seconds = elapsed();
    return result;
}

} // namespace hobble
