// Whole runs: how time and memory grow with poses and with triangles, and what a second run costs.
#include "io/measured_cache.h"
#include "subjects.h"

#include <atomic>
#include <chrono>
#include <fstream>

namespace hobble::bench {

namespace {

// The default plan again and again until it has so many poses; each time at slightly other angles, so that no
// motion is the same.
Plan planOf(const Subject& s, std::size_t poses) {
    const Plan once = defaultPlan(*s.character, s.roles);
    Plan out = once;
    out.motions.clear();
    std::size_t count = 0;
    for (int round = 0; count < poses; ++round)
        for (Motion m : once.motions) {
            if (count >= poses)
                break;
            for (double& d : m.steps)
                d *= 1 - 0.01 * round;
            m.id += "-" + std::to_string(round);
            if (count + m.steps.size() > poses)
                m.steps.resize(std::max<std::size_t>(poses - count, 2));
            count += m.steps.size();
            out.motions.push_back(std::move(m));
        }
    return out;
}

double peakMegabytes() { // of this process so far
    std::ifstream status("/proc/self/status");
    for (std::string line; std::getline(status, line);)
        if (line.starts_with("VmHWM:"))
            return std::stod(line.substr(6)) / 1024;
    return 0;
}

void resetPeak() { std::ofstream("/proc/self/clear_refs") << "5"; }

void run(benchmark::State& state, const Subject& s, std::size_t poses, bool contact) {
    const Plan plan = planOf(s, poses);
    RunOptions options;
    options.threads = 2;
    options.contact = contact;
    resetPeak();
    const double before = peakMegabytes();
    std::size_t findings = 0;
    for (auto _ : state)
        findings = runPlan(s, plan, options).findings.size();
    state.counters["poses"] = static_cast<double>(plan.stepCount());
    state.counters["triangles"] = static_cast<double>(s.surface.triangles.size());
    state.counters["findings"] = static_cast<double>(findings);
    state.counters["MB_more"] = peakMegabytes() - before;
}

void runByPoses(benchmark::State& state) {
    run(state, badger(), static_cast<std::size_t>(state.range(0)), true);
}
BENCHMARK(runByPoses)
    ->Arg(625)
    ->Arg(1250)
    ->Arg(2500)
    ->Arg(5000)
    ->Iterations(1)
    ->UseRealTime()
    ->Unit(benchmark::kSecond);

void runByTriangles(benchmark::State& state) {
    run(state, badgerOf(static_cast<std::size_t>(state.range(0))), 100, true);
}
BENCHMARK(runByTriangles)
    ->Arg(62500)
    ->Arg(125000)
    ->Arg(250000)
    ->Arg(500000)
    ->Arg(1000000)
    ->Iterations(1)
    ->UseRealTime()
    ->Unit(benchmark::kSecond);

void run960PosesOf100kTriangles(benchmark::State& state) {
    run(state, badgerOf(100000), 960, state.range(0) > 0);
}
BENCHMARK(run960PosesOf100kTriangles)
    ->ArgName("contact")
    ->Arg(0)
    ->Arg(1)
    ->Iterations(1)
    ->UseRealTime()
    ->Unit(benchmark::kSecond);

// The same run again, from what was kept; and with a limit changed.
void runAgain(benchmark::State& state) {
    const Subject& s = badger();
    const Plan plan = defaultPlan(*s.character, s.roles);
    MeasuredCache cache("", 1u << 30);
    RunOptions options;
    options.threads = 2;
    options.store = &cache;
    RunResult first;
    const double fresh = timed([&] { first = runPlan(s, plan, options); });
    options.before = std::make_shared<const RunResult>(first);
    if (state.range(0) > 0)
        options.limits.general[Kind::Stretch] = {1.5, 1.8, 2.2, 3.2};
    std::size_t measured = 0;
    for (auto _ : state)
        measured = runPlan(s, plan, options).posesMeasured;
    state.counters["first_ms"] = 1e3 * fresh;
    state.counters["poses"] = static_cast<double>(plan.stepCount());
    state.counters["measured_again"] = static_cast<double>(measured);
}
BENCHMARK(runAgain)->ArgName("limit_changed")->Arg(0)->Arg(1)->UseRealTime()->Unit(benchmark::kMillisecond);

// From the press to the end of the run, the worst of presses at several places.
void stopping(benchmark::State& state) {
    const Subject& s = badger();
    const Plan plan = defaultPlan(*s.character, s.roles);
    double worst = 0;
    for (auto _ : state)
        for (std::size_t at : {1u, 57u, 300u}) {
            std::atomic<bool> cancel{false};
            std::chrono::steady_clock::time_point pressed;
            RunOptions options;
            options.threads = 2;
            options.cancel = &cancel;
            options.progress = [&](const RunProgress& p) {
                if (p.done == at) {
                    pressed = std::chrono::steady_clock::now();
                    cancel = true;
                }
            };
            runPlan(s, plan, options);
            worst = std::max(
                worst, std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - pressed)
                           .count());
        }
    state.counters["worst_ms"] = worst;
}
BENCHMARK(stopping)->Iterations(3)->UseRealTime()->Unit(benchmark::kMillisecond);

} // namespace

} // namespace hobble::bench
