#include "core/measure/volume.h"

#include "core/disjoint_sets.h"
#include "core/words/say.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <unordered_map>
#include <unordered_set>

namespace hobble {

namespace {

std::uint64_t directed(std::uint32_t a, std::uint32_t b) { return std::uint64_t(a) << 32 | b; }

// Calls f(a, b, c) with the corners of every triangle and every fan triangle, double, about `origin`.
template <class F>
void eachFacet(const Surface& surface, const ClosedVolume& closed, const std::vector<Vec3>& p,
               const Vec3d& origin, F&& f) {
    auto at = [&](std::uint32_t v) -> Vec3d { return p[v].cast<double>() - origin; };
    for (std::uint32_t t : closed.triangles) {
        const auto& [a, b, c] = surface.triangles[t];
        f(at(a), at(b), at(c));
    }
    for (const auto& loop : closed.loops) {
        Vec3d centre = Vec3d::Zero();
        for (std::uint32_t v : loop)
            centre += at(v);
        centre /= static_cast<double>(loop.size());
        for (std::size_t i = 0; i < loop.size(); ++i) // against the edge's own direction, to face outwards
            f(at(loop[(i + 1) % loop.size()]), at(loop[i]), centre);
    }
}

} // namespace

Result<ClosedVolume> closeVolume(const Surface& surface, std::vector<std::uint32_t> triangles,
                                 const std::vector<Vec3>& neutral, double mostOpen) {
    if (triangles.empty())
        return Error{say("nothing to enclose")};
    ClosedVolume out;
    out.triangles = std::move(triangles);

    // Directed edges and the far corner of a triangle that has them. Sheets may touch along an edge (it is
    // then used once each way by either); an edge used twice the same way and never back means faces turned
    // about.
    struct Edge {
        int uses = 0;
        std::uint32_t far = 0;
    };
    std::vector<char> ours(surface.triangles.size(), 0);
    for (std::uint32_t t : out.triangles)
        ours[t] = 1;
    auto edge = [&](std::uint32_t a, std::uint32_t b) {
        Edge e;
        for (auto t = surface.trianglesAt.begin(a); t != surface.trianglesAt.end(a); ++t)
            for (int k = 0; k < 3; ++k)
                if (const Triangle& f = surface.triangles[*t]; ours[*t] && f[k] == a && f[(k + 1) % 3] == b) {
                    ++e.uses;
                    e.far = f[(k + 2) % 3];
                }
        return e;
    };
    auto uses = [&](std::uint32_t a, std::uint32_t b) { return edge(a, b).uses; };

    // The border: directed edges without their opposite. A border edge the whole surface has too is a real
    // hole.
    auto isHole = [&](std::uint32_t a, std::uint32_t b) {
        int around = 0;
        for (auto t = surface.trianglesAt.begin(a); t != surface.trianglesAt.end(a); ++t)
            for (int k = 0; k < 3; ++k)
                around += surface.triangles[*t][k] == b;
        return around == 1;
    };
    std::vector<std::pair<std::uint32_t, std::uint32_t>>
        border; // in the triangles' order: no loop depends on hashing
    std::unordered_map<std::uint32_t, std::vector<std::uint32_t>> leaving;
    // Around a vertex whose whole ring is ours every edge has its opposite: that settles nearly all of them.
    std::vector<char> settled(surface.vertexCount(), 2);
    const auto amidst = [&](std::uint32_t v) {
        if (settled[v] == 2)
            settled[v] =
                surface.wholeRing[v] && std::all_of(surface.trianglesAt.begin(v), surface.trianglesAt.end(v),
                                                    [&](std::uint32_t t) { return ours[t]; });
        return settled[v] == 1;
    };
    for (std::uint32_t t : out.triangles)
        for (int k = 0; k < 3; ++k) {
            const std::uint32_t a = surface.triangles[t][k], b = surface.triangles[t][(k + 1) % 3];
            if (amidst(a) || amidst(b))
                continue;
            const int net = uses(a, b) - uses(b, a);
            if (net > 1)
                return Error{say("its triangles face opposite ways")};
            if (net == 1 && (leaving[a].empty() || leaving[a].back() != b)) {
                border.push_back({a, b});
                leaving[a].push_back(b);
            }
        }
    // After a border edge a → b comes the next one around b, met by turning through the triangles there: so a
    // vertex where the border touches itself is no obstacle. Where sheets touch, any border edge that leaves
    // b will do, for the border of a surface always closes.
    std::unordered_set<std::uint64_t> done;
    auto following = [&](std::uint32_t a, std::uint32_t b) {
        std::uint32_t c = edge(a, b).far;
        for (int turns = 0; turns < 1000 && uses(c, b) > 0; ++turns)
            c = edge(c, b).far;
        const auto& choices = leaving[b];
        if (std::find(choices.begin(), choices.end(), c) == choices.end() || done.count(directed(b, c)))
            for (std::uint32_t other : choices)
                if (!done.count(directed(b, other)))
                    return other;
        return c;
    };
    for (const auto& start : border) {
        if (done.count(directed(start.first, start.second)))
            continue;
        std::vector<std::uint32_t> loop;
        double open = 0, length = 0; // metres
        for (auto [a, b] = start; done.insert(directed(a, b)).second;) {
            loop.push_back(a);
            const double along = (neutral[b] - neutral[a]).cast<double>().norm();
            length += along;
            open += isHole(a, b) ? along : 0;
            const std::uint32_t c = following(a, b);
            a = b;
            b = c;
        }
        // A hole wholly within is closed like a rim; so is one that meets the rim with a lesser part of it.
        if (open > mostOpen * length && open < (1 - 1e-9) * length)
            return Error{say("the surface is open here")};
        out.loops.push_back(std::move(loop));
    }

    out.neutral = volumeOf(surface, out, neutral);
    double area = 0;
    for (std::uint32_t t : out.triangles)
        area += surface.area[t];
    // Isoperimetric quotient 36πV²/A³ is 1 for a ball and near 0 for a sheet: a cloth has no inside to lose.
    if (36 * kPi * out.neutral * out.neutral < 1e-3 * area * area * area)
        return Error{say("it is a sheet with nothing inside")};
    return out;
}

std::vector<double> openShares(const Surface& s, const std::vector<Vec3>& neutral) {
    const std::size_t shells = s.openShell.size();
    std::vector<double> out(shells, 0), area(shells, 0), six(shells, 0);
    const auto shellAt = [&](std::uint32_t v) { return static_cast<std::size_t>(s.shellOf[v]); };
    const auto at = [&](std::uint32_t v) -> Vec3d { return neutral[v].cast<double>(); };
    // Edges that their triangles do not use as often one way as the other, and which of them hang together:
    // an opening, whatever its triangles are like.
    std::vector<std::uint64_t> used;
    for (std::uint32_t t = 0; t < s.triangles.size(); ++t) {
        const Triangle& f = s.triangles[t];
        area[shellAt(f[0])] += static_cast<double>(s.area[t]);
        if (!s.openShell[shellAt(f[0])])
            continue;
        six[shellAt(f[0])] += at(f[0]).dot(at(f[1]).cross(at(f[2])));
        for (int k = 0; k < 3; ++k)
            if (!s.wholeRing[f[k]] && !s.wholeRing[f[(k + 1) % 3]]) // the others have their opposite
                used.push_back(directed(f[k], f[(k + 1) % 3]));
    }
    std::sort(used.begin(), used.end());
    const auto count = [&](std::uint64_t edge) {
        const auto [first, last] = std::equal_range(used.begin(), used.end(), edge);
        return last - first;
    };
    struct Rim {
        std::uint32_t a, b;
        double times;
    };
    std::vector<Rim> rims;
    DisjointSets openings(s.vertexCount());
    for (std::size_t i = 0; i < used.size(); ++i) {
        if (i > 0 && used[i] == used[i - 1])
            continue;
        const auto a = static_cast<std::uint32_t>(used[i] >> 32), b = static_cast<std::uint32_t>(used[i]);
        if (const auto net = count(used[i]) - count(directed(b, a)); net > 0) {
            rims.push_back({a, b, static_cast<double>(net)});
            openings.join(a, b);
        }
    }
    std::unordered_map<std::uint32_t, std::pair<Vec3d, double>> middle;
    for (const Rim& r : rims) {
        auto& [sum, edges] = middle.try_emplace(openings.find(r.a), Vec3d::Zero(), 0.0).first->second;
        sum += 0.5 * (at(r.a) + at(r.b));
        ++edges;
    }
    std::map<std::uint32_t, Vec3d> flat; // of each opening
    for (const Rim& r : rims) {
        const auto& [sum, edges] = middle.at(openings.find(r.a));
        const Vec3d centre = sum / edges;
        flat.try_emplace(openings.find(r.a), Vec3d::Zero()).first->second +=
            0.5 * r.times * (at(r.a) - centre).cross(at(r.b) - centre);
        six[shellAt(r.a)] += r.times * at(r.b).dot(at(r.a).cross(centre));
    }
    for (const auto& [opening, vector] : flat)
        out[shellAt(opening)] += vector.norm();
    for (std::size_t shell = 0; shell < shells; ++shell)
        if (s.openShell[shell])
            out[shell] = six[shell] > 0 && area[shell] > 0 ? out[shell] / area[shell] : INFINITY;
    return out;
}

double volumeOf(const Surface& surface, const ClosedVolume& closed, const std::vector<Vec3>& positions) {
    const Vec3d origin = positions[surface.triangles[closed.triangles.front()][0]].cast<double>();
    double six = 0;
    eachFacet(surface, closed, positions, origin,
              [&](const Vec3d& a, const Vec3d& b, const Vec3d& c) { six += a.dot(b.cross(c)); });
    return six / 6;
}

double windingNumber(const Surface& surface, const ClosedVolume& closed, const std::vector<Vec3>& positions,
                     const Vec3d& point) {
    double angle = 0;
    eachFacet(surface, closed, positions, point, [&](const Vec3d& a, const Vec3d& b, const Vec3d& c) {
        const double la = a.norm(), lb = b.norm(), lc = c.norm();
        angle +=
            2 * std::atan2(a.dot(b.cross(c)), la * lb * lc + a.dot(b) * lc + b.dot(c) * la + c.dot(a) * lb);
    });
    return angle / (4 * kPi);
}

} // namespace hobble
