// Borders that lie on one another without being one: the surface is torn there, smooth as it looks, and every
// measure that looks across an edge stops at it.
#include "core/intake/collect.h"

#include <cmath>
#include <unordered_map>

namespace hobble {

CheckFindings checkUnmergedVertices(const Subject& s, const IntakeLimits&) {
    const Character& c = *s.character;
    const Surface& f = s.surface;
    std::vector<char> border(f.vertexCount(), 0);
    for (std::size_t v = 0; v < f.vertexCount(); ++v)
        border[v] = !f.wholeRing[v] && f.neighbours.count(v) > 0;
    // as near as a tenth of the edges around, and never as far as a hem is thick
    const double most = 5e-4 * std::max(s.body.height, 1e-9);
    std::vector<double> near(f.vertexCount(), 0.0);
    for (std::uint32_t v = 0; v < f.vertexCount(); ++v) {
        if (!border[v])
            continue;
        double sum = 0;
        for (auto n = f.neighbours.begin(v); n != f.neighbours.end(v); ++n)
            sum += (s.neutral[*n] - s.neutral[v]).norm();
        near[v] = std::min(most, 0.1 * sum / f.neighbours.count(v));
    }
    std::unordered_map<std::uint64_t, std::vector<std::uint32_t>> cells;
    const auto cell = [&](const Vec3& p, int dx, int dy, int dz) {
        const auto at = [&](float x, int d) {
            return static_cast<std::uint64_t>(static_cast<std::int64_t>(std::floor(x / most)) + d) & 0x1FFFFF;
        };
        return at(p.x(), dx) << 42 | at(p.y(), dy) << 21 | at(p.z(), dz);
    };
    for (std::uint32_t v = 0; v < f.vertexCount(); ++v)
        if (border[v])
            cells[cell(s.neutral[v], 0, 0, 0)].push_back(v);
    std::map<int, std::vector<std::uint32_t>> byPart; // welded
    for (std::uint32_t v = 0; v < f.vertexCount(); ++v) {
        if (!border[v])
            continue;
        const int part = c.partOfVertex(f.representative(v));
        bool close = false;
        for (int d = 0; d < 27 && !close; ++d) {
            const auto it = cells.find(cell(s.neutral[v], d % 3 - 1, d / 3 % 3 - 1, d / 9 - 1));
            if (it == cells.end())
                continue;
            for (std::uint32_t w : it->second)
                if (w != v && f.placeOf[w] != f.placeOf[v] && c.partOfVertex(f.representative(w)) == part &&
                    (s.neutral[w] - s.neutral[v]).norm() < std::min(near[v], near[w]) &&
                    std::find(f.neighbours.begin(v), f.neighbours.end(v), w) == f.neighbours.end(v)) {
                    close = true;
                    break;
                }
        }
        if (close)
            byPart[part].push_back(v);
    }
    CheckFindings out;
    for (const auto& [part, list] : byPart) {
        if (list.size() < 4) // a pair of corners may touch by chance
            continue;
        Places places(c);
        for (std::uint32_t v : list)
            for (auto m = f.members.begin(v); m != f.members.end(v); ++m)
                places.add(*m);
        out.push_back(
            {.check = tableWord("unmerged vertices"),
             .severity = 3,
             .part = part,
             .vertices = places.take(),
             .value = static_cast<double>(list.size()),
             .sentence = say("%zu vertices on borders of '%s' lie on one another without being merged: "
                             "the skin is cut there.",
                             list.size(), c.parts[part].name.c_str()),
             .advice = say("Merge them by distance, and check the weights of both sides first.")});
    }
    return out;
}

} // namespace hobble
