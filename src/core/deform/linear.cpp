#include "core/deform/deformer.h"
#include "core/deform/linear_vector.h"

#include <utility>

namespace hobble {

namespace {

using Matrix34 = Eigen::Matrix<float, 3, 4>;

struct alignas(64) Columns { // a matrix on one line of the cache
    Eigen::Matrix4f matrix = Eigen::Matrix4f::Zero();
};

Matrix34 motionOf(const Skin& skin, const std::vector<Transform>& world, std::size_t joint) {
    return (world[joint] * skin.inverseBind[joint]).matrix().topRows<3>().cast<float>();
}

Matrix34 blendAt(const Character& c, const std::vector<Columns>& palette, std::uint32_t v) {
    Matrix34 blend = Matrix34::Zero();
    for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
        blend += palette[c.weights.joint[i]].matrix.topRows<3>() * c.weights.weight[i];
    return blend;
}

} // namespace

void deformLinear(const Character& c, const WeightLanes& lanes, const std::vector<Transform>& world,
                  const std::vector<Vec3>& bind, std::vector<Vec3>& out, const std::vector<Vec3>* bindNormals,
                  std::vector<Vec3>* normals) {
    out.resize(bind.size());
    if (normals)
        normals->resize(bind.size());
    std::vector<Columns> palette(c.skeleton.name.size());
    int filledFor = -1; // parts mostly share one skin
    const std::vector<Vec3>& still = c.neutral.empty() ? bind : c.neutral.vector();
    auto apart = lanes.apart.begin();
    for (const Part& part : c.parts) {
        const std::uint32_t end = part.firstVertex + part.vertexCount;
        if (part.vertexCount == 0)
            continue;
        if (part.skin < 0) {
            std::copy(bind.begin() + part.firstVertex, bind.begin() + end, out.begin() + part.firstVertex);
            if (normals)
                std::copy(bindNormals->begin() + part.firstVertex, bindNormals->begin() + end,
                          normals->begin() + part.firstVertex);
            continue;
        }
        if (std::exchange(filledFor, part.skin) != part.skin)
            for (std::size_t j = 0; j < palette.size(); ++j)
                if (c.skins[part.skin].bound[j])
                    palette[j].matrix.topRows<3>() = motionOf(c.skins[part.skin], world, j);
        skinInLanes({.palette = palette.empty() ? nullptr : palette[0].matrix.data(),
                     .joint = lanes.joint.data(),
                     .weight = lanes.weight.data(),
                     .position = bind[0].data(),
                     .normal = normals ? (*bindNormals)[0].data() : nullptr,
                     .out = out[0].data(),
                     .outNormal = normals ? (*normals)[0].data() : nullptr,
                     .begin = part.firstVertex,
                     .end = end});
        apart = std::lower_bound(apart, lanes.apart.end(), part.firstVertex);
        for (; apart != lanes.apart.end() && *apart < end; ++apart) {
            const std::uint32_t v = *apart;
            const bool moved = c.weights.first[v] != c.weights.first[v + 1];
            const Matrix34 blend = blendAt(c, palette, v);
            out[v] = moved ? Vec3(blend.leftCols<3>() * bind[v] + blend.col(3)) : still[v];
            if (normals)
                (*normals)[v] = moved ? Vec3(blend.leftCols<3>() * (*bindNormals)[v]) : (*bindNormals)[v];
        }
    }
}

void deformLinearPlain(const Character& c, const std::vector<Transform>& world, const std::vector<Vec3>& bind,
                       std::vector<Vec3>& out) {
    out = bind;
    for (const Part& part : c.parts)
        for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v) {
            const std::uint32_t first = c.weights.first[v], last = c.weights.first[v + 1];
            if (part.skin < 0)
                continue;
            if (first == last) { // nothing moves it: it stays where the neutral pose has it
                out[v] = c.neutral.empty() ? bind[v] : c.neutral[v];
                continue;
            }
            Matrix34 blend = Matrix34::Zero();
            for (std::uint32_t i = first; i < last; ++i)
                blend += motionOf(c.skins[part.skin], world, c.weights.joint[i]) * c.weights.weight[i];
            out[v] = blend.leftCols<3>() * bind[v] + blend.col(3);
        }
}

} // namespace hobble
