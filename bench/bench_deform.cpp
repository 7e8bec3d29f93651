// Skinning beside the streaming of the bytes it has to read and write.
#include "core/deform/detail_smoothing.h"
#include "subjects.h"

#include <tbb/global_control.h>

#include <cstring>

namespace hobble::bench {

namespace {

void skinLinear(benchmark::State& state) {
    const Subject& s = badgerOf(static_cast<std::size_t>(state.range(0)));
    const Character& c = *s.character;
    const auto world = drive(c, everythingTurned(s)).world;
    std::vector<Vec3> normal(c.vertexCount(), Vec3::UnitY()), out, outNormal;
    // Read: position, normal, four joints and weights. Written: position and normal.
    const std::size_t read = c.vertexCount() * (2 * sizeof(Vec3) + 4 * 6);
    const std::size_t written = c.vertexCount() * 2 * sizeof(Vec3);
    // Streaming touches as many bytes: half of them read, half written, by the C library's own copy.
    std::vector<char> from((read + written) / 2, 1), to(from.size());
    beside(
        state,
        [&] {
            deformLinear(c, s.lanes, world, c.bindPosition, out, &normal, &outNormal);
            benchmark::DoNotOptimize(out.data());
        },
        [&] {
            std::memcpy(to.data(), from.data(), to.size());
            benchmark::DoNotOptimize(to.data());
            benchmark::ClobberMemory();
        });
    state.counters["vertices"] = static_cast<double>(c.vertexCount());
    state.counters["influences"] =
        static_cast<double>(c.weights.joint.size()) / static_cast<double>(c.vertexCount());
    state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(c.vertexCount()));
}
BENCHMARK(skinLinear)->Arg(52028)->Arg(1000000)->UseManualTime()->Unit(benchmark::kMillisecond);

void skinLinearBesideItsPlainVersion(benchmark::State& state) {
    const Subject& s = badger();
    const Character& c = *s.character;
    const auto world = drive(c, everythingTurned(s)).world;
    std::vector<Vec3> out, plain;
    beside(
        state, [&] { deformLinear(c, s.lanes, world, c.bindPosition, out); },
        [&] { deformLinearPlain(c, world, c.bindPosition, plain); });
}
BENCHMARK(skinLinearBesideItsPlainVersion)->UseManualTime()->Unit(benchmark::kMillisecond);

void skinDualQuaternionBesideLinear(benchmark::State& state) {
    const Subject& s = badger();
    const Character& c = *s.character;
    const auto world = drive(c, everythingTurned(s)).world;
    std::vector<Vec3> out, linear;
    beside(
        state, [&] { deformDualQuaternion(c, world, c.neutral, out); },
        [&] { deformLinear(c, s.lanes, world, c.bindPosition, linear); });
}
BENCHMARK(skinDualQuaternionBesideLinear)->UseManualTime()->Unit(benchmark::kMillisecond);

// Ten passes over all of the skin, on one thread as the skinning is.
void smoothAfterBesideLinear(benchmark::State& state) {
    const Subject& s = badger();
    const Character& c = *s.character;
    const auto world = drive(c, everythingTurned(s)).world;
    SmoothingWish wish;
    for (std::uint32_t v = 0; v < s.surface.vertexCount(); ++v)
        wish.where.emplace_back(v, 1.f);
    const DetailSmoothing smoothing(s.surface, s.neutral, wish);
    std::vector<Vec3> skinned, out;
    deformLinear(c, s.lanes, world, c.bindPosition, skinned);
    const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
    beside(
        state,
        [&] {
            deformLinear(c, s.lanes, world, c.bindPosition, out);
            smoothing.smooth(out);
        },
        [&] { deformLinear(c, s.lanes, world, c.bindPosition, skinned); });
}
BENCHMARK(smoothAfterBesideLinear)->UseManualTime()->Unit(benchmark::kMillisecond);

} // namespace

} // namespace hobble::bench
