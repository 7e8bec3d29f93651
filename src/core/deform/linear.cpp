#include "core/deform/deformer.h"

namespace hobble {

namespace {
using Matrix34 = Eigen::Matrix<float, 3, 4>;
}

void deformLinear(const Character& c, const std::vector<Transform>& world, const std::vector<Vec3>& bind,
                  std::vector<Vec3>& out) {
    out.resize(bind.size());
    std::vector<Matrix34> palette(c.skeleton.name.size());
    for (const Part& part : c.parts) {
        const std::uint32_t end = part.firstVertex + part.vertexCount;
        if (part.skin < 0) {
            std::copy(bind.begin() + part.firstVertex, bind.begin() + end, out.begin() + part.firstVertex);
            continue;
        }
        const Skin& skin = c.skins[part.skin];
        for (std::size_t j = 0; j < palette.size(); ++j)
            if (skin.bound[j])
                palette[j] = (world[j] * skin.inverseBind[j]).matrix().topRows<3>().cast<float>();
        for (std::uint32_t v = part.firstVertex; v < end; ++v) {
            const std::uint32_t first = c.weights.first[v], last = c.weights.first[v + 1];
            if (first == last) { // nothing moves it: it stays where the neutral pose has it
                out[v] = c.neutral.empty() ? bind[v] : c.neutral[v];
                continue;
            }
            Matrix34 blend = palette[c.weights.joint[first]] * c.weights.weight[first];
            for (std::uint32_t i = first + 1; i < last; ++i)
                blend += palette[c.weights.joint[i]] * c.weights.weight[i];
            out[v] = blend.leftCols<3>() * bind[v] + blend.col(3);
        }
    }
}

} // namespace hobble
