#include "core/deform/weight_lanes.h"

namespace hobble {

WeightLanes weightLanes(const SkinWeights& w) {
    WeightLanes out;
    const std::size_t count = w.vertexCount();
    out.joint.resize(4 * count);
    out.weight.resize(4 * count);
    for (std::uint32_t v = 0; v < count; ++v) {
        const std::uint32_t first = w.first[v], own = w.first[v + 1] - first;
        if (own == 0 || own > 4)
            out.apart.push_back(v);
        for (std::uint32_t k = 0; k < 4 && own > 0; ++k) {
            out.joint[4 * v + k] = w.joint[first + (k < own ? k : 0)];
            out.weight[4 * v + k] = k < own ? w.weight[first + k] : 0.f;
        }
    }
    return out;
}

} // namespace hobble
