#include "core/judge/outline.h"

#include <algorithm>
#include <map>
#include <set>

namespace hobble {

std::vector<EdgePoint> patchOutline(const Surface& s, const std::vector<std::uint32_t>& triangles) {
    std::vector<EdgePoint> out;
    std::set<std::uint32_t> around; // triangles with a corner in the patch
    std::map<std::uint32_t, float> share;
    for (std::uint32_t t : triangles)
        for (std::uint32_t v : s.triangles[t]) {
            if (share.count(v))
                continue;
            float in = 0, all = 0;
            for (auto k = s.trianglesAt.begin(v); k != s.trianglesAt.end(v); ++k) {
                all += s.area[*k];
                if (std::binary_search(triangles.begin(), triangles.end(), *k))
                    in += s.area[*k];
                around.insert(*k);
            }
            share[v] = all > 0 ? in / all : 0;
        }
    const auto of = [&](std::uint32_t v) {
        const auto it = share.find(v);
        return (it == share.end() ? 0.f : it->second) - 0.5f;
    };
    for (std::uint32_t t : around) {
        std::vector<EdgePoint> cut;
        for (std::size_t k = 0; k < 3; ++k) {
            const std::uint32_t a = s.triangles[t][k], b = s.triangles[t][(k + 1) % 3];
            const float x = of(a), y = of(b);
            if ((x < 0) != (y < 0))
                cut.push_back({a, b, x / (x - y)});
        }
        if (cut.size() == 2)
            out.insert(out.end(), cut.begin(), cut.end());
    }
    return out;
}

} // namespace hobble
