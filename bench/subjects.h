#pragma once
// What is measured: the demo badger, and the same badger divided to any size.
#include "core/run/run.h"

#include <benchmark/benchmark.h>

#include <chrono>

namespace hobble::bench {

const Subject& badger(); // 52 000 triangles

/// The badger's parts with the longest edges halved until there are so many triangles, weights averaged; each
/// size is prepared once. Divided evenly, so that it is the same shape with the same joints.
const Subject& badgerOf(std::size_t triangles);

/// Every joint turned a little: no skin stays where it was.
Pose everythingTurned(const Subject& subject);

/// The same as a motion, so that its region is the whole skin.
Motion everythingTurning(const Subject& subject);

/// Seconds of one call.
template <class F> double timed(F&& work) {
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

/// Runs ours and its peer by turns, reports ours as the time, and both and their ratio as counters.
template <class Ours, class Peer> void beside(benchmark::State& state, Ours&& ours, Peer&& peer) {
    double mine = 0, its = 0;
    for (auto _ : state) {
        const double t = timed(ours);
        its += timed(peer);
        mine += t;
        state.SetIterationTime(t);
    }
    const auto n = static_cast<double>(state.iterations());
    state.counters["ours_ms"] = 1e3 * mine / n;
    state.counters["peer_ms"] = 1e3 * its / n;
    state.counters["peer/ours"] = its / mine;
    state.counters["ours/peer"] = mine / its;
}

} // namespace hobble::bench
