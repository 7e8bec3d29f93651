#include "core/deform/weight_lanes.h"

#include <algorithm>
#include <iterator>
#include <numeric>

namespace hobble {

namespace {

// Writes the lanes of the given vertices, and says which of them stand apart.
std::vector<std::uint32_t> fill(const SkinWeights& w, const std::vector<std::uint32_t>& vertices,
                                std::vector<std::uint16_t>& joint, std::vector<float>& weight) {
    std::vector<std::uint32_t> apart;
    for (const std::uint32_t v : vertices) {
        const std::uint32_t first = w.first[v], own = w.first[v + 1] - first;
        if (own == 0 || own > 4)
            apart.push_back(v);
        for (std::uint32_t k = 0; k < 4; ++k) {
            joint[4 * v + k] = own > 0 ? w.joint[first + (k < own ? k : 0)] : std::uint16_t(0);
            weight[4 * v + k] = k < own ? w.weight[first + k] : 0.f;
        }
    }
    return apart;
}

} // namespace

WeightLanes weightLanes(const SkinWeights& w) {
    std::vector<std::uint32_t> all(w.vertexCount());
    std::iota(all.begin(), all.end(), 0u);
    std::vector<std::uint16_t> joint(4 * all.size());
    std::vector<float> weight(4 * all.size());
    auto apart = fill(w, all, joint, weight);
    return {std::move(joint), std::move(weight), std::move(apart)};
}

WeightLanes weightLanes(const WeightLanes& before, const SkinWeights& w,
                        const std::vector<std::uint32_t>& changed) {
    std::vector<std::uint16_t> joint = before.joint;
    std::vector<float> weight = before.weight;
    const std::vector<std::uint32_t> now = fill(w, changed, joint, weight);
    std::vector<std::uint32_t> stay, apart;
    std::set_difference(before.apart.begin(), before.apart.end(), changed.begin(), changed.end(),
                        std::back_inserter(stay));
    std::merge(stay.begin(), stay.end(), now.begin(), now.end(), std::back_inserter(apart));
    return {std::move(joint), std::move(weight), std::move(apart)};
}

} // namespace hobble
