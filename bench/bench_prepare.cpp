// A character made ready again after the weights of one joint have changed, beside making it ready from
// nothing.
#include "core/measure/reweight.h"
#include "subjects.h"

namespace hobble::bench {

namespace {

// A tenth of what the left forearm holds goes to whatever else holds the same skin.
std::shared_ptr<const Character> softened(const Character& c) {
    auto out = std::make_shared<Character>(c);
    const int joint = c.skeleton.find("forearm.L");
    out->weights.weight.change([&](std::vector<float>& weight) {
        for (std::size_t v = 0; v < c.vertexCount(); ++v) {
            const std::uint32_t begin = c.weights.first[v], end = c.weights.first[v + 1];
            for (std::uint32_t i = begin; i < end && end - begin > 1; ++i)
                if (c.weights.joint[i] == joint) {
                    const float moved = 0.1f * weight[i], others = 1 - weight[i];
                    for (std::uint32_t k = begin; k < end && others > 0; ++k)
                        weight[k] += k == i ? -moved : moved * weight[k] / others;
                }
        }
    });
    return out;
}

void weightsOfOneJoint(benchmark::State& state) {
    const Subject& s = badgerOf(static_cast<std::size_t>(state.range(0)));
    const auto after = softened(*s.character);
    Subject again;
    beside(
        state, [&] { again = reweighted(s, after); },
        [&] { benchmark::DoNotOptimize(prepareSubject(after)); });
    int grown = 0;
    for (std::size_t j = 0; j < s.zones.size(); ++j)
        grown += !again.zones.shared(s.zones, j);
    state.counters["vertices"] =
        static_cast<double>(changedVertices(s.character->weights, after->weights).size());
    state.counters["zones"] = grown;
}
BENCHMARK(weightsOfOneJoint)->Arg(52028)->Iterations(10)->UseManualTime()->Unit(benchmark::kMillisecond);
BENCHMARK(weightsOfOneJoint)->Arg(1000000)->Iterations(3)->UseManualTime()->Unit(benchmark::kMillisecond);

} // namespace

} // namespace hobble::bench
