#include "core/character/surface.h"

#include "core/disjoint_sets.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numeric>
#include <tuple>
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

// Which of one part's vertices lie at one place, through a hash grid. Cells are many tolerances wide, so that
// hardly any vertex is near enough to a wall to be a pair with one beyond it; those that are look there too.
void placePart(const std::vector<Vec3>& position, const Part& part, double tolerance,
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

// The vertices of the file that are one: those of a place that triangles on both sides of an edge share.
class Welder {
public:
    Welder(const Character& c, const std::vector<std::uint32_t>& placeOf, std::uint32_t places)
        : c_(c), placeOf_(placeOf), sets_(c.vertexCount()), many_(places, 0) {
        for (std::uint32_t p : placeOf)
            many_[p] = static_cast<char>(std::min(2, many_[p] + 1));
    }

    /// From places to welded vertices, numbered as they come; returns how many.
    std::uint32_t weld(std::vector<std::uint32_t>& weldOf) {
        joinAcrossEdges();
        joinLoose();
        std::vector<std::uint32_t> number(c_.vertexCount(), ~0u);
        std::uint32_t next = 0;
        for (std::uint32_t v = 0; v < c_.vertexCount(); ++v) {
            std::uint32_t& own = number[sets_.find(v)];
            if (own == ~0u)
                own = next++;
            weldOf[v] = own;
        }
        return next;
    }

private:
    struct Use { // of an edge between two places by a triangle
        std::uint64_t edge;
        std::uint32_t low, high; // its vertices of the file, at the lesser and the greater place
    };

    const Character& c_;
    const std::vector<std::uint32_t>& placeOf_;
    DisjointSets sets_;
    std::vector<char> many_; // per place: 2 where several vertices of the file lie there

    bool alike(const Use& a, const Use& b, double share) const {
        const auto& w = c_.weights;
        return (a.low == b.low || weightShared(w, a.low, b.low) >= share) &&
               (a.high == b.high || weightShared(w, a.high, b.high) >= share);
    }

    void join(const Use& a, const Use& b) {
        sets_.join(a.low, b.low);
        sets_.join(a.high, b.high);
    }

    void joinAcrossEdges() {
        std::vector<Use> uses;
        for (const Triangle& t : c_.triangles)
            for (int k = 0; k < 3; ++k) {
                std::uint32_t a = t[k], b = t[(k + 1) % 3];
                std::uint32_t p = placeOf_[a], q = placeOf_[b];
                if (p == q || (many_[p] < 2 && many_[q] < 2))
                    continue;
                if (p > q) {
                    std::swap(p, q);
                    std::swap(a, b);
                }
                uses.push_back({edgeKey(p, q), a, b});
            }
        std::sort(uses.begin(), uses.end(), [](const Use& a, const Use& b) {
            return std::tie(a.edge, a.low, a.high) < std::tie(b.edge, b.low, b.high);
        });
        for (std::size_t i = 0; i < uses.size();) {
            std::size_t end = i;
            while (end < uses.size() && uses[end].edge == uses[i].edge)
                ++end;
            if (end - i == 2) { // one surface, unless its two sides are held by other joints altogether
                if (alike(uses[i], uses[i + 1], kLeastShared) || sameRim(uses[i], uses[i + 1]))
                    join(uses[i], uses[i + 1]);
            } else {
                for (std::size_t a = i; a < end; ++a)
                    for (std::size_t b = a + 1; b < std::min(end, a + 8); ++b)
                        if (alike(uses[a], uses[b], kAlike))
                            join(uses[a], uses[b]);
            }
            i = end;
        }
    }

    // Rims that part at one end only: a seam that cracks, and still a seam.
    bool sameRim(const Use& a, const Use& b) const {
        const auto& w = c_.weights;
        return (a.low != b.low && weightShared(w, a.low, b.low) >= kLeastShared) ||
               (a.high != b.high && weightShared(w, a.high, b.high) >= kLeastShared);
    }

    // What no triangle uses lies where it lies.
    void joinLoose() {
        std::vector<char> used(c_.vertexCount(), 0);
        for (const Triangle& t : c_.triangles)
            for (std::uint32_t v : t)
                used[v] = 1;
        std::unordered_map<std::uint32_t, std::uint32_t> first;
        for (std::uint32_t v = 0; v < c_.vertexCount(); ++v)
            if (!used[v] && many_[placeOf_[v]] > 1)
                sets_.join(first.try_emplace(placeOf_[v], v).first->second, v);
    }

    static constexpr double kLeastShared = 0.05, kAlike = 0.95;
};

// Which triangles to turn about, so that each shell faces one way, and a shell of some size outwards. `uses`:
// per edge of the surface, sorted, a triangle and whether it goes from the lesser to the greater vertex.
struct EdgeUse {
    std::uint64_t edge;
    std::uint32_t triangle;
    bool rising;
};

std::vector<char> turnedAbout(const Surface& s, const std::vector<Vec3>& at,
                              const std::vector<EdgeUse>& uses) {
    const std::vector<Triangle>& triangles = s.triangles;
    const std::vector<float>& areas = s.area;
    std::vector<char> turn(triangles.size(), 0);
    // Edges two triangles share, by triangle; those that both walk the same way disagree.
    std::vector<std::array<std::pair<std::uint32_t, char>, 3>> beside;
    bool disagree = false;
    for (std::size_t i = 0; i + 1 < uses.size() && !disagree; ++i)
        disagree = uses[i].edge == uses[i + 1].edge && uses[i].rising == uses[i + 1].rising &&
                   (i == 0 || uses[i - 1].edge != uses[i].edge) &&
                   (i + 2 >= uses.size() || uses[i + 2].edge != uses[i].edge);
    std::vector<std::uint32_t> piece(triangles.size(), ~0u);
    std::uint32_t pieces = 0;
    if (disagree) {
        constexpr std::uint32_t none = ~0u;
        beside.assign(triangles.size(),
                      {std::pair(none, char(0)), std::pair(none, char(0)), std::pair(none, char(0))});
        const auto add = [&](std::uint32_t t, std::uint32_t other, bool same) {
            for (auto& slot : beside[t])
                if (slot.first == none) {
                    slot = {other, static_cast<char>(same)};
                    return;
                }
        };
        for (std::size_t i = 0; i < uses.size();) {
            std::size_t end = i;
            while (end < uses.size() && uses[end].edge == uses[i].edge)
                ++end;
            if (end - i == 2) {
                const bool same = uses[i].rising == uses[i + 1].rising;
                add(uses[i].triangle, uses[i + 1].triangle, same);
                add(uses[i + 1].triangle, uses[i].triangle, same);
            }
            i = end;
        }
        std::vector<std::uint32_t> stack;
        for (std::uint32_t start = 0; start < triangles.size(); ++start) {
            if (piece[start] != none)
                continue;
            std::vector<std::uint32_t> members;
            double kept = 0, turned = 0;
            piece[start] = pieces;
            stack.push_back(start);
            while (!stack.empty()) {
                const std::uint32_t t = stack.back();
                stack.pop_back();
                members.push_back(t);
                (turn[t] ? turned : kept) += areas[t];
                for (const auto& [other, same] : beside[t])
                    if (other != none && piece[other] == none) {
                        piece[other] = pieces;
                        turn[other] = static_cast<char>(turn[t] != same);
                        stack.push_back(other);
                    }
            }
            if (turned > kept) // as most of it faces
                for (std::uint32_t t : members)
                    turn[t] = !turn[t];
            ++pieces;
        }
    }
    // A shell that holds a good part of all skin and whose volume comes out negative is inside out. Small
    // ones may be meant so: the inside of a mouth.
    std::vector<double> volume(s.shellCount, 0), area(s.shellCount, 0);
    std::vector<Vec3d> middle(s.shellCount, Vec3d::Zero());
    double all = 0;
    for (std::uint32_t t = 0; t < triangles.size(); ++t) {
        const std::uint32_t shell = s.shellOf[triangles[t][0]];
        area[shell] += areas[t];
        all += areas[t];
        for (std::uint32_t v : triangles[t])
            middle[shell] += areas[t] / 3 * at[v].cast<double>();
    }
    for (std::uint32_t t = 0; t < triangles.size(); ++t) {
        const std::uint32_t shell = s.shellOf[triangles[t][0]];
        const Vec3d m = area[shell] > 0 ? Vec3d(middle[shell] / area[shell]) : Vec3d::Zero();
        const auto& [a, b, d] = triangles[t];
        const double six =
            (at[a].cast<double>() - m).dot((at[b].cast<double>() - m).cross(at[d].cast<double>() - m));
        volume[shell] += (turn[t] ? -six : six) / 6;
    }
    for (std::uint32_t t = 0; t < triangles.size(); ++t) {
        const std::uint32_t shell = s.shellOf[triangles[t][0]];
        const double ball = std::pow(area[shell], 1.5) / (6 * std::sqrt(kPi)); // of the same area
        if (area[shell] > 0.1 * all && volume[shell] < -0.05 * ball)
            turn[t] = !turn[t];
    }
    return turn;
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

// Pieces that hang together by edges.
void findShells(Surface& s) {
    constexpr std::uint32_t none = ~0u;
    std::vector<std::uint32_t> shellOf(s.vertexCount(), none), stack;
    for (std::uint32_t v = 0; v < shellOf.size(); ++v) {
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
    s.shellOf = std::move(shellOf);
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
        placePart(c.neutral, part, std::max(tolerance > 0 ? tolerance : 1e-6 * extent, 1e-12), weldOf, welded,
                  progress);
    }
    const std::vector<std::uint32_t> places = weldOf;
    welded = Welder(c, places, welded).weld(weldOf);
    s.weldOf = weldOf;
    {
        std::vector<std::uint32_t> placeOf(welded), firstAt(c.vertexCount(), ~0u);
        for (std::uint32_t v = 0; v < weldOf.size(); ++v) {
            std::uint32_t& first = firstAt[places[v]];
            first = std::min(first, weldOf[v]);
        }
        for (std::uint32_t v = 0; v < weldOf.size(); ++v)
            placeOf[weldOf[v]] = firstAt[places[v]];
        std::vector<char> touches(welded, 0);
        for (std::uint32_t w = 0; w < welded; ++w)
            if (placeOf[w] != w)
                touches[w] = touches[placeOf[w]] = 1;
        s.placeOf = std::move(placeOf);
        s.touches = std::move(touches);
    }
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
    std::vector<EdgeUse> edges;
    edges.reserve(s.triangles.size() * 3);
    pairs.clear();
    std::vector<std::pair<std::uint32_t, std::uint32_t>> at;
    for (std::uint32_t t = 0; t < s.triangles.size(); ++t)
        for (int k = 0; k < 3; ++k) {
            const Triangle& f = std::as_const(s.triangles)[t];
            const std::uint32_t a = f[k], b = f[(k + 1) % 3];
            edges.push_back({edgeKey(a, b), t, a < b});
            pairs.emplace_back(a, b);
            pairs.emplace_back(b, a);
            at.emplace_back(a, t);
        }
    if (stoppedAt(0.65))
        return s;
    s.neighbours = listsFrom(pairs, welded);
    if (stoppedAt(0.75))
        return s;
    std::sort(edges.begin(), edges.end(), [](const EdgeUse& a, const EdgeUse& b) {
        return a.edge != b.edge ? a.edge < b.edge : a.triangle < b.triangle;
    });
    findShells(s);
    {
        std::vector<char> turned = turnedAbout(s, weldedPositions(s, c.neutral), edges);
        s.facingIn = static_cast<std::size_t>(std::count(turned.begin(), turned.end(), 1));
        if (s.facingIn) {
            std::vector<Triangle> facing = s.triangles;
            for (std::size_t t = 0; t < facing.size(); ++t)
                if (turned[t])
                    std::swap(facing[t][1], facing[t][2]);
            s.triangles = std::move(facing);
        }
        s.turned = std::move(turned);
    }
    if (stoppedAt(0.82))
        return s;
    s.trianglesAt = listsFrom(at, welded);
    if (stoppedAt(0.88))
        return s;
    orderRings(s);
    if (stoppedAt(0.93))
        return s;
    std::vector<std::uint32_t> onBorder;
    for (std::size_t i = 0; i < edges.size();) {
        std::size_t j = i;
        while (j < edges.size() && edges[j].edge == edges[i].edge)
            ++j;
        if (j - i == 1) {
            ++s.borderEdges;
            onBorder.push_back(static_cast<std::uint32_t>(edges[i].edge >> 32));
        }
        s.nonManifoldEdges += j - i > 2;
        i = j;
    }
    std::vector<char> openShell(s.shellCount, 0);
    for (std::uint32_t v : onBorder)
        openShell[s.shellOf[v]] = 1;
    s.openShell = std::move(openShell);
    return s;
}

bool weldsAlike(const Surface& s, const Character& c) {
    std::vector<std::uint32_t> places(c.vertexCount()), weldOf(c.vertexCount());
    for (std::uint32_t v = 0; v < places.size(); ++v)
        places[v] = s.placeOf[s.weldOf[v]];
    Welder(c, places, static_cast<std::uint32_t>(s.vertexCount())).weld(weldOf);
    return std::equal(weldOf.begin(), weldOf.end(), s.weldOf.begin());
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
