#include "core/deform/smooth_preview.h"

#include <algorithm>
#include <map>

namespace hobble {

namespace {

struct Edge {
    std::uint32_t a = 0, b = 0;
    std::vector<std::uint32_t> across; // the corners opposite
    std::uint32_t number = 0;          // of the new vertex on it
    bool border() const { return across.size() != 2; }
};

void put(SmoothPreview& out, std::initializer_list<std::pair<std::uint32_t, float>> stencil) {
    for (const auto& [v, w] : stencil) {
        out.from.push_back(v);
        out.weight.push_back(w);
    }
    out.first.push_back(static_cast<std::uint32_t>(out.from.size()));
}

} // namespace

SmoothPreview smoothPreview(const Surface& s) {
    SmoothPreview out;
    std::map<std::pair<std::uint32_t, std::uint32_t>, Edge> edges;
    for (const Triangle& t : s.triangles)
        for (std::size_t k = 0; k < 3; ++k) {
            const std::uint32_t a = std::min(t[k], t[(k + 1) % 3]), b = std::max(t[k], t[(k + 1) % 3]);
            Edge& e = edges[{a, b}];
            e.a = a;
            e.b = b;
            e.across.push_back(t[(k + 2) % 3]);
        }
    std::vector<std::vector<std::uint32_t>> borders(s.vertexCount()); // the other ends of border edges
    for (const auto& [key, e] : edges)
        if (e.border()) {
            borders[e.a].push_back(e.b);
            borders[e.b].push_back(e.a);
        }
    for (std::uint32_t v = 0; v < s.vertexCount(); ++v) {
        out.between.push_back({v, v});
        const auto n = s.neighbours.count(v);
        if (borders[v].size() == 2)
            put(out, {{v, 0.75f}, {borders[v][0], 0.125f}, {borders[v][1], 0.125f}});
        else if (!borders[v].empty() || n < 3) // a corner stays
            put(out, {{v, 1}});
        else {
            const float beta = n == 3 ? 3.f / 16 : 3.f / (8 * static_cast<float>(n));
            for (auto w = s.neighbours.begin(v); w != s.neighbours.end(v); ++w) {
                out.from.push_back(*w);
                out.weight.push_back(beta);
            }
            put(out, {{v, 1 - static_cast<float>(n) * beta}});
        }
    }
    for (auto& [key, e] : edges) {
        e.number = static_cast<std::uint32_t>(out.vertexCount());
        out.between.push_back({e.a, e.b});
        if (e.border())
            put(out, {{e.a, 0.5f}, {e.b, 0.5f}});
        else
            put(out, {{e.a, 0.375f}, {e.b, 0.375f}, {e.across[0], 0.125f}, {e.across[1], 0.125f}});
    }
    out.triangles.reserve(4 * s.triangles.size());
    for (const Triangle& t : s.triangles) {
        std::array<std::uint32_t, 3> middle;
        for (std::size_t k = 0; k < 3; ++k)
            middle[k] = edges[std::minmax(t[k], t[(k + 1) % 3])].number;
        out.triangles.push_back({t[0], middle[0], middle[2]});
        out.triangles.push_back({t[1], middle[1], middle[0]});
        out.triangles.push_back({t[2], middle[2], middle[1]});
        out.triangles.push_back({middle[0], middle[1], middle[2]});
    }
    return out;
}

std::vector<Vec3> smoothed(const SmoothPreview& p, const std::vector<Vec3>& at) {
    std::vector<Vec3> out(p.vertexCount(), Vec3::Zero());
    for (std::size_t v = 0; v < out.size(); ++v)
        for (std::uint32_t i = p.first[v]; i < p.first[v + 1]; ++i)
            out[v] += p.weight[i] * at[p.from[i]];
    return out;
}

} // namespace hobble
