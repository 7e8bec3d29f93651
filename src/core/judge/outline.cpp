#include "core/judge/outline.h"

#include <algorithm>
#include <map>
#include <set>

namespace hobble {

PatchShape patchShape(const Surface& s, const std::vector<std::uint32_t>& triangles) {
    std::map<std::uint32_t, float> share; // of the skin at a vertex that is part of the patch
    const auto shareOf = [&](std::uint32_t v) {
        float in = 0, all = 0;
        for (auto k = s.trianglesAt.begin(v); k != s.trianglesAt.end(v); ++k) {
            all += s.area[*k];
            if (std::binary_search(triangles.begin(), triangles.end(), *k))
                in += s.area[*k];
        }
        return all > 0 ? in / all : 0;
    };
    for (std::uint32_t t : triangles)
        for (std::uint32_t v : s.triangles[t])
            if (!share.count(v))
                share[v] = shareOf(v);
    const auto valueOf = [&](std::uint32_t v) {
        const auto it = share.find(v);
        return it == share.end() ? 0.f : it->second;
    };
    std::map<std::uint32_t, float> even;
    const auto evened = [&](std::uint32_t v) {
        float sum = 0, count = 0;
        for (auto n = s.neighbours.begin(v); n != s.neighbours.end(v); ++n, ++count)
            sum += valueOf(*n);
        return count > 0 ? 0.5f * valueOf(v) + 0.5f * sum / count : valueOf(v);
    };
    std::set<std::uint32_t> around; // triangles the shape may reach into
    float most = 0;
    for (const auto& [v, value] : share) {
        most = std::max(most, even[v] = evened(v));
        for (auto n = s.neighbours.begin(v); n != s.neighbours.end(v); ++n)
            if (!even.count(*n))
                even[*n] = evened(*n);
        around.insert(s.trianglesAt.begin(v), s.trianglesAt.end(v));
    }
    const auto of = [&](std::uint32_t v) { // what is small is seen as well
        const auto it = even.find(v);
        return (it == even.end() ? 0.f : it->second) - 0.5f * most;
    };
    PatchShape out;
    for (std::uint32_t t : around) {
        std::vector<EdgePoint> inside, cut;
        for (std::size_t k = 0; k < 3; ++k) {
            const std::uint32_t a = s.triangles[t][k], b = s.triangles[t][(k + 1) % 3];
            const float x = of(a), y = of(b);
            if (x >= 0)
                inside.push_back({a, a, 0});
            if ((x < 0) != (y < 0)) {
                cut.push_back({a, b, x / (x - y)});
                inside.push_back(cut.back());
            }
        }
        for (std::size_t k = 2; k < inside.size(); ++k)
            out.fill.insert(out.fill.end(), {inside[0], inside[k - 1], inside[k]});
        if (cut.size() == 2)
            out.outline.insert(out.outline.end(), cut.begin(), cut.end());
    }
    return out;
}

} // namespace hobble
