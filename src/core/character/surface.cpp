#include "core/character/surface.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
#include <unordered_map>

namespace hobble {

namespace {

std::uint64_t edgeKey(std::uint32_t a, std::uint32_t b) {
    return a < b ? (std::uint64_t(a) << 32 | b) : (std::uint64_t(b) << 32 | a);
}

Lists listsFrom(std::vector<std::pair<std::uint32_t, std::uint32_t>>& pairs, std::size_t count) {
    std::sort(pairs.begin(), pairs.end());
    pairs.erase(std::unique(pairs.begin(), pairs.end()), pairs.end());
    std::vector<std::uint32_t> first(count + 1, 0), item;
    item.reserve(pairs.size());
    for (const auto& [key, value] : pairs) {
        ++first[key + 1];
        item.push_back(value);
    }
    std::partial_sum(first.begin(), first.end(), first.begin());
    return {std::move(first), std::move(item)};
}

// Welds one part through a hash grid. Cells are many tolerances wide, so that hardly any vertex is near
// enough to a wall to be a pair with one beyond it; those that are look there too.
void weldPart(const std::vector<Vec3>& position, const Part& part, double tolerance,
              std::vector<std::uint32_t>& weldOf, std::uint32_t& next, const Progress& progress) {
    struct Cell {
        std::int64_t x, y, z;
        bool operator==(const Cell&) const = default;
    };
    struct Hash {
        std::size_t operator()(const Cell& c) const {
            return std::size_t(c.x) * 73856093u ^ std::size_t(c.y) * 19349663u ^ std::size_t(c.z) * 83492791u;
        }
    };
    std::unordered_map<Cell, std::vector<std::uint32_t>, Hash> grid;
    grid.reserve(part.vertexCount);
    const double size = 64 * tolerance;
    auto cellOf = [&](const Vec3d& p) {
        return Cell{std::int64_t(std::floor(p.x() / size)), std::int64_t(std::floor(p.y() / size)),
                    std::int64_t(std::floor(p.z() / size))};
    };
    for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v) {
        if (v % 65536 == 0 && progress.stopped())
            return;
        const Vec3& p = position[v];
        std::int64_t found = -1;
        const Vec3d at = p.cast<double>(), reach = Vec3d::Constant(1.001 * tolerance);
        const Cell low = cellOf(at - reach), high = cellOf(at + reach);
        for (std::int64_t x = low.x; x <= high.x && found < 0; ++x)
            for (std::int64_t y = low.y; y <= high.y && found < 0; ++y)
                for (std::int64_t z = low.z; z <= high.z && found < 0; ++z)
                    if (auto it = grid.find({x, y, z}); it != grid.end())
                        for (std::uint32_t other : it->second)
                            if ((position[other] - p).norm() <= tolerance) {
                                found = weldOf[other];
                                break;
                            }
        if (found < 0)
            found = next++;
        weldOf[v] = static_cast<std::uint32_t>(found);
        grid[cellOf(at)].push_back(v);
    }
}

// Brings the neighbours of each vertex whose triangles form one closed fan into their order around it.
void orderRings(Surface& s) {
    std::vector<char> whole(s.vertexCount(), 0);
    std::vector<std::uint32_t> neighbours = s.neighbours.item;
    std::vector<std::pair<std::uint32_t, std::uint32_t>> next; // from one neighbour to the following
    std::vector<std::uint32_t> ring;
    for (std::uint32_t v = 0; v < s.vertexCount(); ++v) {
        const std::size_t count = s.neighbours.count(v);
        if (count < 3 || s.trianglesAt.count(v) != count)
            continue;
        next.clear();
        for (auto t = s.trianglesAt.begin(v); t != s.trianglesAt.end(v); ++t) {
            const Triangle& f = s.triangles[*t];
            const int k = f[0] == v ? 0 : f[1] == v ? 1 : 2;
            next.push_back({f[(k + 1) % 3], f[(k + 2) % 3]});
        }
        std::sort(next.begin(), next.end());
        ring.assign(1, next.front().first);
        while (true) {
            const auto at = std::lower_bound(next.begin(), next.end(), std::pair(ring.back(), 0u));
            if (at == next.end() || at->first != ring.back() || at->second == ring.front() ||
                ring.size() == count)
                break;
            ring.push_back(at->second);
        }
        const auto own = neighbours.begin() + s.neighbours.first[v];
        if (ring.size() != count || !std::is_permutation(ring.begin(), ring.end(), own))
            continue;
        std::copy(ring.begin(), ring.end(), own);
        whole[v] = 1;
    }
    s.wholeRing = std::move(whole);
    s.neighbours.item = std::move(neighbours);
}

} // namespace

double Surface::weightOn(std::uint32_t welded, const std::vector<char>& in) const {
    double sum = 0;
    for (std::uint32_t i = weights.first[welded]; i < weights.first[welded + 1]; ++i)
        if (in[weights.joint[i]])
            sum += weights.weight[i];
    return sum;
}

WeldedWeights weldedWeights(const Surface& s, const SkinWeights& file,
                            const std::vector<std::uint32_t>& welded) {
    const std::vector<std::uint32_t>& firsts = file.first;
    const std::vector<std::uint16_t>& joints = file.joint;
    const std::vector<float>& weights = file.weight;
    std::vector<std::uint32_t> first{0};
    std::vector<std::uint16_t> joint;
    std::vector<float> weight;
    std::size_t cracking = 0;
    std::map<std::uint16_t, double> sum;
    for (const std::uint32_t w : welded) {
        sum.clear();
        double total = 0;
        for (auto m = s.members.begin(w); m != s.members.end(w); ++m)
            for (std::uint32_t i = firsts[*m]; i < firsts[*m + 1]; ++i) {
                sum[joints[i]] += weights[i];
                total += weights[i];
            }
        std::vector<std::pair<std::uint16_t, double>> sorted(sum.begin(), sum.end());
        std::stable_sort(sorted.begin(), sorted.end(),
                         [](const auto& a, const auto& b) { return a.second > b.second; });
        for (const auto& [j, held] : sorted) {
            joint.push_back(j);
            weight.push_back(static_cast<float>(held / total));
        }
        first.push_back(static_cast<std::uint32_t>(joint.size()));

        const std::uint32_t lead = s.representative(w);
        for (auto m = s.members.begin(w) + 1; m != s.members.end(w); ++m) {
            const auto own = firsts[lead], count = firsts[lead + 1] - own;
            const auto other = firsts[*m];
            bool same = firsts[*m + 1] - other == count;
            for (std::uint32_t i = 0; same && i < count; ++i)
                same = joints[own + i] == joints[other + i] &&
                       std::abs(weights[own + i] - weights[other + i]) < 0.004f;
            if (!same) {
                ++cracking;
                break;
            }
        }
    }
    const std::size_t count = welded.size();
    return {{std::move(first), std::move(joint), std::move(weight), SharedVector<float>(count, 1.f)},
            cracking};
}

Surface buildSurface(const Character& c, double tolerance, const Progress& progress) {
    Surface s;
    std::vector<std::uint32_t> weldOf(c.vertexCount());
    std::uint32_t welded = 0;
    for (const Part& part : c.parts) {
        Eigen::AlignedBox3f box;
        for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v)
            box.extend(c.neutral[v]);
        const double extent = part.vertexCount ? box.sizes().norm() : 1.0;
        weldPart(c.neutral, part, std::max(tolerance > 0 ? tolerance : 1e-6 * extent, 1e-12), weldOf, welded,
                 progress);
    }
    s.weldOf = weldOf;
    const auto stoppedAt = [&](double share) {
        progress.at(share);
        return progress.stopped();
    };
    if (stoppedAt(0.3))
        return s;
    std::vector<std::pair<std::uint32_t, std::uint32_t>> pairs;
    for (std::uint32_t v = 0; v < weldOf.size(); ++v)
        pairs.emplace_back(weldOf[v], v);
    s.members = listsFrom(pairs, welded);
    std::vector<std::uint32_t> all(welded);
    std::iota(all.begin(), all.end(), 0u);
    auto [weights, cracking] = weldedWeights(s, c.weights, all);
    s.weights = std::move(weights);
    s.crackingWelds = cracking;
    if (stoppedAt(0.45))
        return s;

    // Triangles: a doubled face is the same three vertices again, whichever way it faces.
    std::vector<char> again(c.triangles.size(), 0);
    {
        std::vector<std::pair<Triangle, std::uint32_t>> keys;
        keys.reserve(c.triangles.size());
        for (std::uint32_t t = 0; t < c.triangles.size(); ++t) {
            Triangle key{weldOf[c.triangles[t][0]], weldOf[c.triangles[t][1]], weldOf[c.triangles[t][2]]};
            std::sort(key.begin(), key.end());
            keys.emplace_back(key, t);
        }
        std::sort(keys.begin(), keys.end());
        for (std::size_t i = 1; i < keys.size(); ++i)
            again[keys[i].second] = keys[i].first == keys[i - 1].first; // the first of them stays
    }
    std::vector<Triangle> triangles;
    std::vector<std::uint32_t> fileTriangle;
    std::vector<float> areas;
    for (std::uint32_t t = 0; t < c.triangles.size(); ++t) {
        const Triangle& f = c.triangles[t];
        const Triangle w{weldOf[f[0]], weldOf[f[1]], weldOf[f[2]]};
        const Vec3d a = c.neutral[f[0]].cast<double>(), b = c.neutral[f[1]].cast<double>(),
                    d = c.neutral[f[2]].cast<double>();
        const double area = 0.5 * (b - a).cross(d - a).norm();
        const double longest =
            std::max({(b - a).squaredNorm(), (d - b).squaredNorm(), (a - d).squaredNorm()});
        const bool collapsed = w[0] == w[1] || w[1] == w[2] || w[2] == w[0];
        const bool sliver = area < 1e-7 * longest; // keeps its place in the surface, but strains nothing
        s.degenerate += collapsed || sliver;
        if (collapsed)
            continue;
        if (again[t]) {
            ++s.doubled;
            continue;
        }
        triangles.push_back(w);
        fileTriangle.push_back(t);
        areas.push_back(sliver ? 0.f : static_cast<float>(area));
    }
    s.triangles = std::move(triangles);
    s.fileTriangle = std::move(fileTriangle);
    s.area = std::move(areas);

    if (stoppedAt(0.6))
        return s;
    std::vector<std::uint64_t> edges;
    edges.reserve(s.triangles.size() * 3);
    pairs.clear();
    std::vector<std::pair<std::uint32_t, std::uint32_t>> at;
    for (std::uint32_t t = 0; t < s.triangles.size(); ++t)
        for (int k = 0; k < 3; ++k) {
            const Triangle& f = std::as_const(s.triangles)[t];
            const std::uint32_t a = f[k], b = f[(k + 1) % 3];
            edges.push_back(edgeKey(a, b));
            pairs.emplace_back(a, b);
            pairs.emplace_back(b, a);
            at.emplace_back(a, t);
        }
    if (stoppedAt(0.65))
        return s;
    s.neighbours = listsFrom(pairs, welded);
    if (stoppedAt(0.8))
        return s;
    s.trianglesAt = listsFrom(at, welded);
    if (stoppedAt(0.88))
        return s;
    orderRings(s);
    if (stoppedAt(0.93))
        return s;
    std::sort(edges.begin(), edges.end());
    std::vector<std::uint32_t> onBorder;
    for (std::size_t i = 0; i < edges.size();) {
        std::size_t j = i;
        while (j < edges.size() && edges[j] == edges[i])
            ++j;
        if (j - i == 1) {
            ++s.borderEdges;
            onBorder.push_back(static_cast<std::uint32_t>(edges[i] >> 32));
        }
        s.nonManifoldEdges += j - i > 2;
        i = j;
    }

    constexpr std::uint32_t none = ~0u;
    std::vector<std::uint32_t> shellOf(welded, none), stack;
    for (std::uint32_t v = 0; v < welded; ++v) {
        if (shellOf[v] != none)
            continue;
        shellOf[v] = s.shellCount;
        stack.push_back(v);
        while (!stack.empty()) {
            const std::uint32_t u = stack.back();
            stack.pop_back();
            for (auto n = s.neighbours.begin(u); n != s.neighbours.end(u); ++n)
                if (shellOf[*n] == none) {
                    shellOf[*n] = s.shellCount;
                    stack.push_back(*n);
                }
        }
        ++s.shellCount;
    }
    std::vector<char> openShell(s.shellCount, 0);
    for (std::uint32_t v : onBorder)
        openShell[shellOf[v]] = 1;
    s.shellOf = std::move(shellOf);
    s.openShell = std::move(openShell);
    return s;
}

std::vector<Vec3> weldedPositions(const Surface& surface, const std::vector<Vec3>& filePositions) {
    std::vector<Vec3> out;
    weldedPositions(surface, filePositions, out);
    return out;
}

void weldedPositions(const Surface& surface, const std::vector<Vec3>& filePositions, std::vector<Vec3>& out) {
    out.resize(surface.vertexCount());
    for (std::uint32_t w = 0; w < out.size(); ++w)
        out[w] = filePositions[surface.representative(w)];
}

} // namespace hobble
