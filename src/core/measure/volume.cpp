#include "core/measure/volume.h"

#include <algorithm>
#include <cmath>
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

constexpr double kMostOpen = 0.4; // of a rim: half a tube, whose sides are open all along, has two thirds

} // namespace

Result<ClosedVolume> closeVolume(const Surface& surface, std::vector<std::uint32_t> triangles,
                                 const std::vector<Vec3>& neutral) {
    if (triangles.empty())
        return Error{"nothing to enclose"};
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
                return Error{"its triangles face opposite ways"};
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
        if (open > kMostOpen * length && open < (1 - 1e-9) * length)
            return Error{"the surface is open here"};
        out.loops.push_back(std::move(loop));
    }

    out.neutral = volumeOf(surface, out, neutral);
    double area = 0;
    for (std::uint32_t t : out.triangles)
        area += surface.area[t];
    // Isoperimetric quotient 36πV²/A³ is 1 for a ball and near 0 for a sheet: a cloth has no inside to lose.
    if (36 * kPi * out.neutral * out.neutral < 1e-3 * area * area * area)
        return Error{"it is a sheet with nothing inside"};
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
