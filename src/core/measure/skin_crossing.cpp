#include "core/measure/skin_crossing.h"

#include "core/measure/triangle_tree.h"

#include <algorithm>

namespace hobble {

void SkinCrossing::add(const Triangle& a, const Triangle& b, const std::vector<Vec3>& positions) {
    for (const auto& [of, other] : {std::pair(&a, &b), std::pair(&b, &a)})
        for (std::size_t k = 0; k < 3; ++k)
            if (edgeThrough((*of)[k], (*of)[(k + 1) % 3], *other, positions))
                edges.push_back(std::minmax((*of)[k], (*of)[(k + 1) % 3]));
}

void SkinCrossing::addFold(const Triangle& a, const Triangle& b, const std::vector<Vec3>& positions) {
    std::size_t inA = 0, inB = 0, common = 0;
    for (std::size_t i = 0; i < 3; ++i)
        for (std::size_t j = 0; j < 3; ++j)
            if (a[i] == b[j]) {
                inA = i;
                inB = j;
                ++common;
            }
    if (common != 1)
        return;
    const auto opposite = [&](const Triangle& of, std::size_t corner, const Triangle& other) {
        const std::uint32_t from = of[(corner + 1) % 3], to = of[(corner + 2) % 3];
        if (!edgeThrough(from, to, other, positions))
            return;
        edges.push_back(std::minmax(from, to));
        ends.push_back(of[corner]);
    };
    opposite(a, inA, b);
    opposite(b, inB, a);
}

void SkinCrossing::sort() {
    std::sort(edges.begin(), edges.end());
    std::sort(ends.begin(), ends.end());
}

bool SkinCrossing::between(std::uint32_t a, std::uint32_t b) const {
    const std::pair<std::uint32_t, std::uint32_t> edge = std::minmax(a, b);
    return std::binary_search(edges.begin(), edges.end(), edge) ||
           std::binary_search(ends.begin(), ends.end(), a) || std::binary_search(ends.begin(), ends.end(), b);
}

} // namespace hobble
