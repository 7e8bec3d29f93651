#include "picture/stand_in.h"

#include <meshoptimizer.h>

namespace hobble {

std::vector<Triangle> standIn(const Character& c, std::size_t most) {
    std::vector<Triangle> out;
    const double share =
        static_cast<double>(most) / static_cast<double>(std::max<std::size_t>(c.triangles.size(), 1));
    if (share >= 1)
        return c.triangles.vector();
    for (const Part& part : c.parts) {
        if (part.triangleCount == 0)
            continue;
        std::vector<unsigned int> corners, kept;
        corners.reserve(3 * part.triangleCount);
        for (std::uint32_t t = part.firstTriangle; t < part.firstTriangle + part.triangleCount; ++t)
            for (std::uint32_t v : c.triangles[t])
                corners.push_back(v - part.firstVertex);
        kept.resize(corners.size());
        const auto wanted = static_cast<std::size_t>(share * part.triangleCount) * 3;
        constexpr float anyError = 1; // of its extent: the number of triangles is what counts
        kept.resize(meshopt_simplify(kept.data(), corners.data(), corners.size(),
                                     c.neutral[part.firstVertex].data(), part.vertexCount, sizeof(Vec3),
                                     wanted, anyError, 0, nullptr));
        for (std::size_t i = 0; i + 2 < kept.size(); i += 3)
            out.push_back(
                {part.firstVertex + kept[i], part.firstVertex + kept[i + 1], part.firstVertex + kept[i + 2]});
    }
    return out;
}

} // namespace hobble
