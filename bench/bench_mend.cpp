// Mend: a stroke of the brush, a step switched off in a long list, the motions that a change touches measured
// again, and a search for cures. The peer is what it would take without: all steps again, or the whole run.
#include "core/measure/pose_meter.h"
#include "core/measure/reweight.h"
#include "core/mend/cure.h"
#include "core/mend/touched.h"
#include "core/pose/drive.h"
#include "core/run/measured_memory.h"
#include "subjects.h"

namespace hobble::bench {

namespace {

std::shared_ptr<const Subject> shared(const Subject& s) {
    return {&s, [](const Subject*) {}};
}

int elbowOf(const Subject& s) {
    for (int j = 0; j < s.character->skeleton.size(); ++j)
        if (s.roles[static_cast<std::size_t>(j)].role == Role::Elbow)
            return j;
    return -1;
}

Step strokeAt(const Subject& s, int joint, float along) {
    Step out;
    out.kind = StepKind::Fill;
    out.fillBy = FillBy::Add;
    out.amount = 0.1;
    out.joint = s.character->skeleton.name[static_cast<std::size_t>(joint)];
    out.place.what = MendPlace::What::Stroke;
    const JointZone& zone = s.zones[static_cast<std::size_t>(joint)];
    // on the skin, where the passage is
    const std::uint32_t v = zone.blendVertices[zone.blendVertices.size() / 2];
    out.place.path = {s.neutral[v], s.neutral[v] + along * zone.axis.cast<float>()};
    out.place.radius = 0.4 * zone.limbRadius;
    return out;
}

// One event of the brush: the weights, the skin of one pose, its measures.
void brush(benchmark::State& state) {
    const Subject& s = badger();
    const int joint = elbowOf(s);
    TriedSteps tried(shared(s));
    const Plan plan = fullPlan(*s.character, s.roles);
    Motion motion;
    for (const Motion& m : plan.motions)
        if (m.turns.size() == 1 && m.turns[0].joint == joint && motion.turns.empty())
            motion = m;
    float along = 0;
    for (auto _ : state) {
        along += 0.0005f;
        Trial trial;
        trial.steps = {strokeAt(s, joint, along)};
        tried.take(trial);
        const Subject after = reweighted(s, tried.character());
        PoseMeter meter(after, {Skinning::Linear, floorsFor(Limits::standard()), false, nullptr});
        meter.begin(motion);
        benchmark::DoNotOptimize(meter.pose(motion.limit()));
    }
}

// The last but one of fifty steps switched off; the peer works all of them out.
void fiftySteps(benchmark::State& state) {
    const Subject& s = badger();
    const int joint = elbowOf(s);
    Trial trial;
    for (int i = 0; i < 50; ++i)
        trial.steps.push_back(strokeAt(s, joint, 0.001f * static_cast<float>(i)));
    TriedSteps tried(shared(s));
    tried.take(trial);
    const auto at = static_cast<std::size_t>(state.range(0));
    beside(
        state,
        [&] {
            trial.steps[at].on = !trial.steps[at].on;
            tried.take(trial);
            benchmark::DoNotOptimize(tried.character());
        },
        [&] {
            TriedSteps all(shared(s));
            all.take(trial);
            benchmark::DoNotOptimize(all.character());
        });
}

void touchedMotionsAgain(benchmark::State& state) {
    const Subject& s = badger();
    const Plan plan = fullPlan(*s.character, s.roles);
    MeasuredMemory known;
    RunOptions options;
    options.store = &known;
    options.causes = false;
    (void)runPlan(s, plan, options);
    const int joint = elbowOf(s);
    TriedSteps tried(shared(s));
    Trial trial;
    trial.steps = {strokeAt(s, joint, 0.01f)};
    tried.take(trial);
    const Subject after = reweighted(s, tried.character());
    std::size_t touched = 0;
    beside(
        state,
        [&] {
            TouchedStore store(shared(s), after, plan, known);
            touched = store.touched();
            RunOptions again = options;
            again.store = &store;
            benchmark::DoNotOptimize(runPlan(after, plan, again).findings.size());
        },
        [&] {
            RunOptions whole = options;
            whole.store = nullptr;
            benchmark::DoNotOptimize(runPlan(after, plan, whole).findings.size());
        });
    state.counters["touched"] = static_cast<double>(touched);
    state.counters["motions"] = static_cast<double>(plan.motions.size());
}

void cures(benchmark::State& state) {
    const Subject& s = badger();
    const Plan plan = fullPlan(*s.character, s.roles);
    MeasuredMemory known;
    RunOptions options;
    options.store = &known;
    const auto run = std::make_shared<const RunResult>(runPlan(s, plan, options));
    if (run->faults.empty())
        return state.SkipWithError("nothing to cure");
    const CureSearch search(shared(s), plan, run, known);
    for (auto _ : state)
        benchmark::DoNotOptimize(search.search(goalOf(*run, run->faults.front())).tried);
}

} // namespace

BENCHMARK(brush)->Name("mend/brush")->Unit(benchmark::kMillisecond);
BENCHMARK(fiftySteps)
    ->Name("mend/fiftySteps")
    ->Arg(48)
    ->Arg(0)
    ->UseManualTime()
    ->Unit(benchmark::kMillisecond);
BENCHMARK(touchedMotionsAgain)
    ->Name("mend/touchedMotions")
    ->Iterations(3)
    ->UseManualTime()
    ->Unit(benchmark::kMillisecond);
BENCHMARK(cures)->Name("mend/cures")->Iterations(1)->Unit(benchmark::kMillisecond);

} // namespace hobble::bench
