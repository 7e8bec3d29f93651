#include "core/run/run.h"

#include "core/judge/causes.h"
#include "core/judge/sides.h"
#include "core/measure/leak.h"
#include "core/measure/pop.h"

#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include <chrono>
#include <mutex>

namespace hobble {

namespace {

// Measures the poses of one motion after another, and keeps the space they need.
class PoseMeter {
public:
    PoseMeter(const Subject& subject, const RunOptions& options) : s_(subject), options_(options) {}

    void begin(const Motion& motion) {
        motion_ = &motion;
        region_ = std::make_unique<MotionRegion>(motionRegion(s_, motion));
        turnOf_ = turnOfTriangles(s_, motion, *region_);
        contact_.forRegion = nullptr;
        paths_.clear();
    }

    StepResult measure(std::size_t step, PosePatches& patches) {
        StepResult out;
        out.degrees = motion_->degrees[step];
        const Driven driven = drive(*s_.character, poseAt(s_.character->skeleton, *motion_, out.degrees));
        deform(*s_.character, driven, options_.method, file_);
        f_.posed = weldedPositions(s_.surface, file_);
        f_.world = driven.world;
        f_.strain.resize(region_->triangles.size());
        for (std::size_t i = 0; i < f_.strain.size(); ++i) {
            const std::uint32_t t = region_->triangles[i];
            const auto& [a, b, c] = s_.surface.triangles[t];
            f_.strain[i] = strainOf(s_.rest[t], f_.posed[a], f_.posed[b], f_.posed[c]);
        }
        roughness(s_, *region_, f_.posed, f_.rough);
        flips(s_, *region_, f_.posed, f_.rough, f_.flipped);
        leaks(s_, *motion_, *region_, f_.world, f_.posed, f_.leak);
        contacts(s_, *region_, f_.posed, contact_, f_.contact);
        cover(s_, *region_, f_.posed, cover_, f_.cover);
        f_.softness.clear();
        f_.drift.clear();
        for (const RigidPart& r : s_.rigid) {
            f_.softness.push_back(r.bound ? softness(s_, r, f_.posed) : 0);
            f_.drift.push_back(r.bound ? 0 : drift(s_, r, f_.posed));
        }
        std::vector<ZoneMeasures> zones;
        for (const JointTurn& turn : motion_->turns)
            zones.push_back(measureZone(s_.surface, s_.rest, s_.zones[turn.joint], f_.posed));
        patches = findPatches(s_, *motion_, *region_, turnOf_, f_, zones, options_.limits);
        for (std::size_t k = 0; k < zones.size(); ++k)
            out.joints.push_back({motion_->turns[k].joint, std::move(zones[k])});
        std::vector<Vec3> path;
        for (std::uint32_t v : region_->vertices)
            path.push_back(f_.posed[v]);
        paths_.push_back(std::move(path));
        return out;
    }

    // What only the whole motion shows: kicks between its steps.
    void finish(MotionResult& result, std::vector<PosePatches>& patches) {
        paths_.pop_back(); // neutral again
        const double height = std::max(s_.body.height, 1e-9);
        const int joint = motion_->turns.front().joint;
        const LimitSteps& limit = options_.limits.of(Kind::Pop, s_.roles[joint].role);
        for (const Pop& pop : pops(s_, *motion_, *region_, options_.method, paths_, limit[0] * height)) {
            std::vector<std::uint32_t> marked;
            for (std::uint32_t t : region_->triangles) {
                float least = INFINITY;
                for (std::uint32_t v : s_.surface.triangles[t])
                    least = std::min(least, pop.metres[region_->numberOf[v]]);
                if (least > limit[0] * height)
                    marked.push_back(t);
            }
            const std::size_t step = std::min(pop.step + 1, patches.size() - 1);
            result.steps[step].joints[0].measures.pop = pop.most / height;
            for (auto& group : touching(s_.surface, marked)) {
                Patch patch{Kind::Pop, pop.most / height, 0, std::move(group)};
                for (std::uint32_t t : patch.triangles)
                    patch.area += s_.surface.area[t];
                patches[step].push_back({joint, std::move(patch)});
            }
        }
    }

private:
    const Subject& s_;
    const RunOptions& options_;
    const Motion* motion_ = nullptr;
    std::unique_ptr<MotionRegion> region_;
    std::vector<int> turnOf_;
    PoseFields f_;
    ContactScratch contact_;
    CoverScratch cover_;
    std::vector<Vec3> file_;
    std::vector<std::vector<Vec3>> paths_; // of the region's vertices, per step
};

} // namespace

RunResult runPlan(const Subject& subject, const Plan& plan, const RunOptions& options) {
    using Clock = std::chrono::steady_clock;
    const auto start = Clock::now();
    auto elapsed = [&] { return std::chrono::duration<double>(Clock::now() - start).count(); };

    RunResult result{plan, options.method, options.limits, {}, {}, false, 0};
    result.motions.resize(plan.motions.size());
    std::vector<std::vector<PosePatches>> patches(plan.motions.size());
    for (std::size_t m = 0; m < plan.motions.size(); ++m) {
        result.motions[m].steps.resize(plan.motions[m].degrees.size());
        patches[m].resize(plan.motions[m].degrees.size());
    }
    const std::size_t total = plan.stepCount();

    std::mutex telling;
    std::vector<std::size_t> left(plan.motions.size());
    for (std::size_t m = 0; m < left.size(); ++m)
        left[m] = plan.motions[m].degrees.size();
    std::size_t done = 0;
    const auto told = [&](std::size_t motion) {
        const std::lock_guard lock(telling);
        ++done;
        --left[motion];
        if (options.progress)
            options.progress(
                {done, total, elapsed() / static_cast<double>(done) * static_cast<double>(total - done)});
    };
    const auto cancelled = [&] { return options.cancel && options.cancel->load(std::memory_order_relaxed); };
    tbb::task_arena arena(options.threads > 0 ? options.threads : tbb::task_arena::automatic);
    arena.execute([&] {
        tbb::parallel_for(tbb::blocked_range<std::size_t>(0, plan.motions.size(), 1), [&](const auto& range) {
            PoseMeter meter(subject, options);
            for (std::size_t m = range.begin(); m != range.end(); ++m) {
                meter.begin(plan.motions[m]);
                for (std::size_t i = 0; i < plan.motions[m].degrees.size(); ++i) {
                    if (cancelled())
                        return;
                    result.motions[m].steps[i] = meter.measure(i, patches[m][i]);
                    told(m);
                }
                meter.finish(result.motions[m], patches[m]);
            }
        });
    });
    for (std::size_t m = 0; m < left.size(); ++m)
        if (left[m] > 0) { // half a motion would show a false onset and peak
            result.cancelled = true;
            result.motions[m].steps.clear();
            patches[m].clear();
        }

    compareSides(subject, plan, result.motions, patches, options.limits);
    result.findings = mergeFindings(subject, plan, result.motions, patches, options.limits);
    if (result.findings.empty()) {
        result.seconds = elapsed();
        return result;
    }
    const CauseContext context = causeContext(subject);
    arena.execute([&] {
        tbb::parallel_for(std::size_t(0), result.findings.size(), [&](std::size_t i) {
            result.findings[i].causes =
                likelyCauses(subject, context, plan, options.method, result.findings[i]);
        });
    });
    result.seconds = elapsed();
    return result;
}

} // namespace hobble
