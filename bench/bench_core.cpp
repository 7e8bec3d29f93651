// The core's work on the demo character, each beside a peer measured in the same run:
// build/release/bin/hobble-bench
#include "core/run/run.h"
#include "io/gltf_read.h"

#include <Eigen/SVD>
#include <benchmark/benchmark.h>

#include <cstring>

using namespace hobble;

namespace {

const Subject& badger() {
    static const Subject s = [] {
        auto c = readGltf(HOBBLE_DEMO_DIR "/badger-postmaster.glb");
        return prepareSubject(std::make_shared<const Character>(std::move(c.value())));
    }();
    return s;
}

Pose benchPose() {
    Pose pose = Pose::neutral(badger().character->skeleton);
    for (std::size_t j = 1; j < pose.turn.size(); ++j)
        pose.turn[j] = turnXyz(7.0, -4.0, 11.0);
    return pose;
}

std::vector<Vec3> posedWelded() {
    std::vector<Vec3> p;
    deform(*badger().character, benchPose(), Skinning::Linear, p);
    return weldedPositions(badger().surface, p);
}

void skinLinear(benchmark::State& state) {
    const auto world = worldTransforms(badger().character->skeleton, benchPose());
    std::vector<Vec3> out;
    for (auto _ : state) {
        deformLinear(*badger().character, world, badger().character->bindPosition, out);
        benchmark::DoNotOptimize(out.data());
    }
    state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(out.size()));
}
BENCHMARK(skinLinear);

void skinDualQuaternion(benchmark::State& state) {
    const auto world = worldTransforms(badger().character->skeleton, benchPose());
    std::vector<Vec3> out;
    for (auto _ : state) {
        deformDualQuaternion(*badger().character, world, badger().character->neutral, out);
        benchmark::DoNotOptimize(out.data());
    }
    state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(out.size()));
}
BENCHMARK(skinDualQuaternion);

// The peer of skinning: streaming what it must read and write.
void streamSameBytes(benchmark::State& state) {
    const Character& c = *badger().character;
    const std::size_t bytes =
        c.vertexCount() * 2 * sizeof(Vec3) + c.weights.joint.size() * 6 + c.weights.first.size() * 4;
    std::vector<char> from(bytes / 2, 1), to(bytes / 2);
    for (auto _ : state) {
        std::memcpy(to.data(), from.data(), to.size());
        benchmark::DoNotOptimize(to.data());
        benchmark::ClobberMemory();
    }
    state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(c.vertexCount()));
}
BENCHMARK(streamSameBytes);

void strainAllTriangles(benchmark::State& state) {
    const auto posed = posedWelded();
    std::vector<Strain> out;
    for (auto _ : state) {
        strains(badger().surface, badger().rest, posed, out);
        benchmark::DoNotOptimize(out.data());
    }
    state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(out.size()));
}
BENCHMARK(strainAllTriangles);

// The peer of strain: a plain double-precision loop over Eigen's JacobiSVD.
void strainByJacobiSvd(benchmark::State& state) {
    const Subject& s = badger();
    const auto posed = posedWelded();
    auto edges = [](const Vec3& a, const Vec3& b, const Vec3& c) {
        const Vec3d e1 = (b - a).cast<double>(), e2 = (c - a).cast<double>(), x = e1.normalized();
        const Vec3d y = e1.cross(e2).normalized().cross(x);
        Eigen::Matrix2d m;
        m << e1.dot(x), e2.dot(x), e1.dot(y), e2.dot(y);
        return m;
    };
    for (auto _ : state) {
        double sum = 0;
        for (const Triangle& t : s.surface.triangles) {
            const Eigen::Matrix2d f = edges(posed[t[0]], posed[t[1]], posed[t[2]]) *
                                      edges(s.neutral[t[0]], s.neutral[t[1]], s.neutral[t[2]]).inverse();
            sum += Eigen::JacobiSVD<Eigen::Matrix2d>(f).singularValues()[0];
        }
        benchmark::DoNotOptimize(sum);
    }
    state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(s.surface.triangles.size()));
}
BENCHMARK(strainByJacobiSvd);

void wholeRun(benchmark::State& state) {
    const Plan plan = defaultPlan(*badger().character, badger().roles);
    RunOptions options;
    options.threads = static_cast<int>(state.range(0));
    for (auto _ : state)
        benchmark::DoNotOptimize(runPlan(badger(), plan, options).findings.size());
    state.counters["poses"] = static_cast<double>(plan.stepCount());
}
BENCHMARK(wholeRun)->Arg(1)->Arg(2)->Unit(benchmark::kMillisecond)->UseRealTime();

} // namespace

BENCHMARK_MAIN();
