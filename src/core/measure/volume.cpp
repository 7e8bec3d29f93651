#include "core/measure/volume.h"

#include <cmath>
#include <unordered_map>
#include <unordered_set>

namespace hobble {

namespace {

std::uint64_t directed(std::uint32_t a, std::uint32_t b) { return std::uint64_t(a) << 32 | b; }

// Calls f(a, b, c) with the corners of every triangle and every fan triangle, double, about `origin`.
template <class F>
void eachFacet(const Surface& surface, const ClosedVolume& closed, const std::vector<Vec3>& p, const Vec3d& origin,
               F&& f) {
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
                                 const std::vector<Vec3>& neutral) {
    if (triangles.empty())
        return Error{"nothing to enclose"};
    ClosedVolume out;
    out.triangles = std::move(triangles);

    std::unordered_map<std::uint64_t, int> uses;
    for (std::uint32_t t : out.triangles)
        for (int k = 0; k < 3; ++k)
            if (++uses[directed(surface.triangles[t][k], surface.triangles[t][(k + 1) % 3])] > 1)
                return Error{"an edge is shared by more than two triangles, or they face opposite ways"};

    // The border: directed edges without their opposite. A border edge the whole surface has too is a real hole.
    std::unordered_map<std::uint32_t, std::uint32_t> next;
    auto isHole = [&](std::uint32_t a, std::uint32_t b) {
        int around = 0;
        for (auto t = surface.trianglesAt.begin(a); t != surface.trianglesAt.end(a); ++t)
            for (int k = 0; k < 3; ++k)
                around += surface.triangles[*t][k] == b;
        return around == 1;
    };
    std::vector<std::uint32_t> starts; // in the triangles' order, so that loops do not depend on hashing
    for (std::uint32_t t : out.triangles)
        for (int k = 0; k < 3; ++k) {
            const std::uint32_t a = surface.triangles[t][k], b = surface.triangles[t][(k + 1) % 3];
            if (uses.count(directed(b, a)))
                continue;
            if (!next.emplace(a, b).second)
                return Error{"its border branches"};
            starts.push_back(a);
        }
    std::unordered_set<std::uint32_t> done;
    for (std::uint32_t start : starts) {
        if (done.count(start))
            continue;
        std::vector<std::uint32_t> loop;
        std::size_t holes = 0;
        for (std::uint32_t v = start; done.insert(v).second;) {
            loop.push_back(v);
            const auto it = next.find(v);
            if (it == next.end())
                return Error{"its border does not close"};
            holes += isHole(v, it->second);
            v = it->second;
        }
        if (holes != 0 && holes != loop.size())
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
        angle += 2 * std::atan2(a.dot(b.cross(c)),
                                la * lb * lc + a.dot(b) * lc + b.dot(c) * la + c.dot(a) * lb);
    });
    return angle / (4 * kPi);
}

} // namespace hobble
