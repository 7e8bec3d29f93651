#include "core/run/run.h"

#include "core/judge/causes.h"
#include "core/judge/sides.h"
#include "core/measure/pose_meter.h"

#include <tbb/enumerable_thread_specific.h>
#include <tbb/parallel_for.h>
#include <tbb/parallel_pipeline.h>
#include <tbb/task_arena.h>

#include <chrono>
#include <mutex>

namespace hobble {

namespace {

// One motion on its way through the run.
struct MotionWork {
    std::size_t motion = 0;
    std::shared_ptr<const MeasuredMotion> measured; // null: cancelled
    std::vector<PosePatches> patches;
};

class Run {
public:
    Run(const Subject& subject, const Plan& plan, const RunOptions& options)
        : s_(subject), options_(options), floors_(floorsFor(options.limits)),
          merger_(s_, result_.plan, options.limits) {
        result_.plan = plan;
        result_.method = options.method;
        result_.limits = options.limits;
        result_.motions.resize(plan.motions.size());
        total_ = plan.stepCount();
        store_ = options.contact ? options.store : nullptr;
    }

    RunResult go() {
        tbb::task_arena arena(options_.threads > 0 ? options_.threads : tbb::task_arena::automatic);
        arena.execute([&] { measureAndJudge(static_cast<std::size_t>(arena.max_concurrency())); });
        const auto sides = compareSides(s_, result_.plan, result_.motions, options_.limits);
        for (std::size_t m = 0; m < sides.size(); ++m)
            merger_.add(static_cast<int>(m), result_.motions[m], sides[m]);
        result_.findings = merger_.findings();
        arena.execute([&] { askForCauses(); });
        result_.cancelled = result_.cancelled || cancelled();
        result_.seconds = elapsed();
        return std::move(result_);
    }

private:
    using Clock = std::chrono::steady_clock;
    const Subject& s_;
    const RunOptions& options_;
    const Floors floors_;
    MeasuredStore* store_ = nullptr;
    RunResult result_;
    FindingMerger merger_;
    const Clock::time_point start_ = Clock::now();
    std::mutex telling_;
    std::size_t done_ = 0, total_ = 0;

    double elapsed() const { return std::chrono::duration<double>(Clock::now() - start_).count(); }
    bool cancelled() const { return options_.cancel && options_.cancel->load(std::memory_order_relaxed); }

    void told(std::size_t poses, bool measured) {
        const std::lock_guard lock(telling_);
        done_ += poses;
        result_.posesMeasured += measured ? poses : 0;
        if (options_.progress)
            options_.progress({done_, total_,
                               elapsed() / static_cast<double>(done_) * static_cast<double>(total_ - done_)});
    }

    // Motions go in and come out in the plan's order, so that merging does not depend on who was faster; only
    // a few are under way at any time, so that memory does not depend on their number.
    void measureAndJudge(std::size_t threads) {
        tbb::enumerable_thread_specific<PoseMeter> meters([&] {
            return PoseMeter(s_, {options_.method, floors_, options_.contact, options_.cancel});
        });
        std::size_t next = 0;
        tbb::parallel_pipeline(
            2 * threads,
            tbb::make_filter<void, std::size_t>(tbb::filter_mode::serial_in_order,
                                                [&](tbb::flow_control& flow) {
                                                    if (next == result_.plan.motions.size() || cancelled()) {
                                                        flow.stop();
                                                        return next;
                                                    }
                                                    return next++;
                                                }) &
                tbb::make_filter<std::size_t, std::shared_ptr<MotionWork>>(
                    tbb::filter_mode::parallel,
                    [&](std::size_t motion) { return work(motion, meters.local()); }) &
                tbb::make_filter<std::shared_ptr<MotionWork>, void>(
                    tbb::filter_mode::serial_in_order,
                    [&](const std::shared_ptr<MotionWork>& w) { finish(*w); }));
        result_.cancelled = next < result_.plan.motions.size() || result_.cancelled;
    }

    std::shared_ptr<MotionWork> work(std::size_t m, PoseMeter& meter) {
        const Motion& motion = result_.plan.motions[m];
        auto w = std::make_shared<MotionWork>();
        w->motion = m;
        if (store_)
            w->measured = store_->find(*s_.character, options_.method, motion, floors_);
        if (w->measured) {
            told(w->measured->poses.size(), false);
        } else {
            auto measured = meter.measure(motion, [&] { told(1, true); });
            if (!measured)
                return w; // half a motion would show a false onset and peak
            w->measured = std::make_shared<const MeasuredMotion>(std::move(*measured));
            if (store_)
                store_->keep(*s_.character, options_.method, motion, floors_, w->measured);
        }
        for (std::size_t i = 0; i < w->measured->poses.size(); ++i)
            w->patches.push_back(findPatches(s_, motion, *w->measured, i, options_.limits));
        return w;
    }

    void finish(const MotionWork& w) {
        if (!w.measured) {
            result_.cancelled = true;
            return;
        }
        MotionResult& out = result_.motions[w.motion];
        for (const MeasuredPose& p : w.measured->poses) {
            out.steps.push_back({p.degrees, {}});
            for (std::size_t k = 0; k < p.zones.size(); ++k)
                out.steps.back().joints.push_back(
                    {result_.plan.motions[w.motion].turns[k].joint, p.zones[k]});
        }
        merger_.add(static_cast<int>(w.motion), out, w.patches);
        if (options_.finished)
            options_.finished(w.motion, out);
    }

    void askForCauses() {
        std::vector<Finding*> open;
        for (Finding& f : result_.findings)
            if (const Finding* known = knownBefore(f))
                f.causes = known->causes;
            else
                open.push_back(&f);
        if (open.empty() || result_.cancelled)
            return;
        const CauseContext context = causeContext(s_);
        tbb::parallel_for(std::size_t(0), open.size(), [&](std::size_t i) {
            if (!cancelled())
                open[i]->causes = likelyCauses(s_, context, result_.plan, options_.method, *open[i]);
        });
    }

    const Finding* knownBefore(const Finding& f) const {
        if (!options_.before || options_.before->cancelled || options_.before->method != options_.method)
            return nullptr;
        const Plan& plan = options_.before->plan;
        for (const Finding& g : options_.before->findings)
            if (f.joint == g.joint && f.kind == g.kind && f.peakDegrees == g.peakDegrees &&
                f.peakValue == g.peakValue && f.triangles == g.triangles &&
                sameMotion(result_.plan.motions[f.motion], plan.motions[g.motion]))
                return &g;
        return nullptr;
    }

    static bool sameMotion(const Motion& a, const Motion& b) {
        return a.roll == b.roll && a.turns.size() == b.turns.size() &&
               std::equal(a.turns.begin(), a.turns.end(), b.turns.begin(),
                          [](const JointTurn& x, const JointTurn& y) {
                              return x.joint == y.joint && x.axis == y.axis && x.share == y.share;
                          });
    }
};

} // namespace

RunResult runPlan(const Subject& subject, const Plan& plan, const RunOptions& options) {
    return Run(subject, plan, options).go();
}

} // namespace hobble
