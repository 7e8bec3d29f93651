#include "core/run/run.h"

#include "core/judge/causes/likely_causes.h"
#include "core/judge/causes/trial.h"
#include "core/judge/sides.h"
#include "core/measure/pose_meter.h"
#include "core/run/result_for.h"
#include "core/run/undone_run.h"

#include <tbb/enumerable_thread_specific.h>
#include <tbb/parallel_for.h>
#include <tbb/parallel_pipeline.h>
#include <tbb/task_arena.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <mutex>
#include <utility>

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
        if (options_.causes) {
            arena.execute([&] { askForCauses(); });
            result_.faults = gatherFaults(s_, result_.plan, options_.limits, result_.findings);
            arena.execute([&] {
                argue();
                if (context_ && !result_.cancelled)
                    gatherWhatGoes(s_, *context_, result_.plan, options_, result_.findings, result_.faults);
            });
            orderFaults(s_, result_.plan, options_.limits, result_.findings, result_.faults);
        }
        result_.cancelled = result_.cancelled || cancelled();
        result_.seconds = elapsed();
        result_.posesRefined = refined_;
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
    std::optional<CauseContext> context_;
    const Clock::time_point start_ = Clock::now();
    std::mutex telling_;
    std::size_t done_ = 0, total_ = 0;
    std::atomic<std::size_t> refined_{0};

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
            2 * threads, tbb::make_filter<void, std::size_t>(
                             tbb::filter_mode::serial_in_order,
                             [&](tbb::flow_control& flow) {
                                 while (next < result_.plan.motions.size() && !result_.plan.motions[next].on)
                                     ++next;
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
        std::shared_ptr<const MeasuredMotion> known; // the plan's steps, then those that refining asked for
        if (store_)
            known = store_->find(*s_.character, options_.method, motion, floors_);
        const bool found = known != nullptr;
        if (found) {
            told(motion.steps.size(), false);
        } else {
            auto measured = meter.measure(motion, [&] { told(1, true); });
            if (!measured)
                return w; // half a motion would show a false onset and peak
            known = std::make_shared<const MeasuredMotion>(std::move(*measured));
        }
        const std::size_t before = known->poses.size();
        w->measured = refined(motion, known, meter, !found);
        if (w->measured && store_ && (!found || known->poses.size() != before))
            store_->keep(*s_.character, options_.method, motion, floors_, known);
        for (std::size_t i = 0; w->measured && i < w->measured->poses.size(); ++i)
            w->patches.push_back(findPatches(s_, motion, *w->measured, i, options_.limits));
        return w;
    }

    // Between the last step within every limit and the first beyond one, steps are halved. What is measured
    // for it is added to `known`, so that it is measured once; what comes back has the steps these limits ask
    // for, whatever others asked for before. `begun`: the meter is at this motion. Null when cancelled.
    std::shared_ptr<const MeasuredMotion> refined(const Motion& motion,
                                                  std::shared_ptr<const MeasuredMotion>& known,
                                                  PoseMeter& meter, bool begun) {
        const std::size_t base = motion.steps.size();
        const bool asked = result_.plan.refineTo > 0 && motion.span != Span::Frames && base > 2;
        std::size_t first = 0; // of the steps beyond a limit
        if (asked)
            for (std::size_t i = 1; i + 1 < base && first == 0; ++i)
                if (!findPatches(s_, motion, *known, i, options_.limits).empty())
                    first = i;
        if (first == 0 && known->poses.size() == base)
            return known;
        auto out = std::make_shared<MeasuredMotion>();
        out->turnOf = known->turnOf;
        out->poses.assign(known->poses.begin(), known->poses.begin() + static_cast<std::ptrdiff_t>(base));
        if (first == 0)
            return out;
        const double scale =
            motion.span == Span::Percent ? std::max(largestTurn(motion), 1e-6) : 1; // degrees a unit
        double low = motion.steps[first - 1], high = motion.steps[first];
        while ((high - low) * scale > result_.plan.refineTo * 1.01) {
            const double middle = (low + high) / 2;
            auto at = std::find_if(known->poses.begin() + static_cast<std::ptrdiff_t>(base),
                                   known->poses.end(), [&](const MeasuredPose& p) { return p.at == middle; });
            if (at == known->poses.end()) {
                if (!std::exchange(begun, true))
                    meter.begin(motion);
                auto one = meter.oneMore(middle);
                if (!one)
                    return nullptr;
                ++refined_;
                auto more = std::make_shared<MeasuredMotion>(*known);
                more->poses.push_back(std::move(*one));
                known = std::move(more);
                at = known->poses.end() - 1;
            }
            const auto place = static_cast<std::size_t>(at - known->poses.begin());
            (findPatches(s_, motion, *known, place, options_.limits).empty() ? low : high) = middle;
            out->poses.push_back(known->poses[place]);
        }
        // into their order; the last of the plan's steps is neutral again
        const auto end = out->poses.begin() + static_cast<std::ptrdiff_t>(base);
        std::rotate(end - 1, end, out->poses.end());
        std::stable_sort(out->poses.begin(), out->poses.end() - 1,
                         [](const MeasuredPose& a, const MeasuredPose& b) { return a.at < b.at; });
        return out;
    }

    static double largestTurn(const Motion& motion) {
        double most = 0;
        for (const JointTurn& t : motion.turns)
            most = std::max(most, std::abs(t.share));
        return most;
    }

    void finish(const MotionWork& w) {
        if (!w.measured) {
            result_.cancelled = true;
            return;
        }
        MotionResult& out = result_.motions[w.motion];
        std::vector<double> steps; // with those that refining added
        for (const MeasuredPose& p : w.measured->poses)
            steps.push_back(p.at);
        result_.plan.motions[w.motion].steps = std::move(steps);
        for (const MeasuredPose& p : w.measured->poses) {
            out.steps.push_back({p.at, {}});
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
        context_ = causeContext(s_);
        tbb::parallel_for(std::size_t(0), open.size(), [&](std::size_t i) {
            if (!cancelled())
                open[i]->causes = likelyCauses(s_, *context_, result_.plan, options_.method, *open[i]);
        });
    }

    // The likeliest causes of each fault are undone, to see what goes.
    void argue() {
        if (result_.faults.empty() || result_.cancelled || cancelled())
            return;
        if (!context_)
            context_ = causeContext(s_);
        tbb::parallel_for(std::size_t(0), result_.faults.size(), [&](std::size_t k) {
            if (!cancelled())
                tryCauses(s_, *context_, result_.plan, options_.method, result_.findings, result_.faults[k]);
        });
    }

    const Finding* knownBefore(const Finding& f) const {
        if (!options_.before || options_.before->cancelled || options_.before->method != options_.method)
            return nullptr;
        const Plan& plan = options_.before->plan;
        for (const Finding& g : options_.before->findings)
            if (f.joint == g.joint && f.kind == g.kind && f.peak == g.peak && f.peakValue == g.peakValue &&
                f.triangles == g.triangles &&
                sameMotion(result_.plan.motions[f.motion], plan.motions[g.motion]))
                return &g;
        return nullptr;
    }
};

} // namespace

std::pair<double, double> onsetAndPeak(const RunResult& run, int motion) {
    double onset = -1, peak = -1, most = 1;
    for (const Finding& f : run.findings)
        if (f.motion == motion) {
            onset = onset < 0 ? f.onset : std::min(onset, f.onset);
            const double trouble = troubleOf(f.kind, f.peakValue, run.limits.of(f.kind, f.role));
            if (trouble >= most) { // the worst has the peak
                most = trouble;
                peak = f.peak;
            }
        }
    return {onset, peak};
}

RunResult runPlan(const Subject& subject, const Plan& plan, const RunOptions& options) {
    return Run(subject, plan, options).go();
}

} // namespace hobble
