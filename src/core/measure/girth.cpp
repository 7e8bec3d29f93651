#include "core/measure/girth.h"

#include <cmath>
#include <unordered_map>

namespace hobble {

namespace {

Vec3d at(const EdgePoint& e, const std::vector<Vec3>& p) {
    return p[e.a].cast<double>() * (1.0 - e.t) + p[e.b].cast<double>() * double(e.t);
}

std::uint64_t key(std::uint32_t a, std::uint32_t b) {
    return a < b ? (std::uint64_t(a) << 32 | b) : (std::uint64_t(b) << 32 | a);
}

} // namespace

std::vector<std::vector<EdgePoint>> planeCut(const Surface& surface,
                                             const std::vector<std::uint32_t>& triangles,
                                             const std::vector<Vec3>& p, const Vec3d& point,
                                             const Vec3d& normal) {
    // A vertex on the plane counts as above it, so that every cut triangle is crossed by exactly two edges.
    auto side = [&](std::uint32_t v) { return normal.dot(p[v].cast<double>() - point); };
    struct Crossing {
        EdgePoint point;
        std::uint64_t link[2] = {0, 0};
        int links = 0;
        bool used = false;
    };
    std::unordered_map<std::uint64_t, Crossing> crossings;
    std::vector<std::uint64_t> order;
    for (std::uint32_t t : triangles) {
        const Triangle& f = surface.triangles[t];
        const double sides[3] = {side(f[0]), side(f[1]), side(f[2])};
        if ((sides[0] >= 0) == (sides[1] >= 0) && (sides[1] >= 0) == (sides[2] >= 0))
            continue;
        std::uint64_t cut[2];
        int n = 0;
        for (int k = 0; k < 3; ++k) {
            const std::uint32_t a = f[k], b = f[(k + 1) % 3];
            const double da = sides[k], db = sides[(k + 1) % 3];
            if ((da >= 0) == (db >= 0))
                continue;
            const std::uint64_t e = key(a, b);
            auto [it, fresh] = crossings.try_emplace(e);
            if (fresh) {
                const std::uint32_t lo = std::min(a, b), hi = std::max(a, b);
                const double dl = lo == a ? da : db, dh = lo == a ? db : da;
                it->second.point = {lo, hi, static_cast<float>(dl / (dl - dh))};
                order.push_back(e);
            }
            if (n < 2)
                cut[n] = e;
            ++n;
        }
        if (n == 2)
            for (int k = 0; k < 2; ++k) {
                Crossing& c = crossings[cut[k]];
                if (c.links < 2)
                    c.link[c.links] = cut[1 - k];
                ++c.links;
            }
    }
    std::vector<std::vector<EdgePoint>> loops;
    for (std::uint64_t start : order) {
        if (crossings[start].used)
            continue;
        std::vector<EdgePoint> loop;
        bool closed = false;
        std::uint64_t previous = 0, e = start;
        while (true) {
            Crossing& c = crossings[e];
            c.used = true;
            loop.push_back(c.point);
            if (c.links != 2)
                break;
            const std::uint64_t onward = c.link[0] != previous ? c.link[0] : c.link[1];
            previous = e;
            e = onward;
            if (e == start) {
                closed = true;
                break;
            }
            if (crossings[e].used)
                break;
        }
        if (closed && loop.size() >= 3)
            loops.push_back(std::move(loop));
    }
    return loops;
}

double sectionArea(const std::vector<EdgePoint>& loop, const std::vector<Vec3>& positions) {
    if (loop.empty())
        return 0;
    const Vec3d origin = at(loop.front(), positions);
    Vec3d sum = Vec3d::Zero(), previous = at(loop.back(), positions) - origin;
    for (const EdgePoint& e : loop) {
        const Vec3d here = at(e, positions) - origin;
        sum += previous.cross(here);
        previous = here;
    }
    return 0.5 * sum.norm();
}

std::optional<std::vector<EdgePoint>> sectionAround(const Surface& surface,
                                                    const std::vector<std::uint32_t>& triangles,
                                                    const std::vector<Vec3>& positions, const Vec3d& centre,
                                                    const Vec3d& normal) {
    std::optional<std::vector<EdgePoint>> best;
    double bestArea = 0;
    for (auto& loop : planeCut(surface, triangles, positions, centre, normal)) {
        double turned = 0; // total angle about the centre: ±2π when the loop goes around it
        Vec3d previous = at(loop.back(), positions) - centre;
        for (const EdgePoint& e : loop) {
            const Vec3d here = at(e, positions) - centre;
            turned += std::atan2(normal.dot(previous.cross(here)), previous.dot(here));
            previous = here;
        }
        const double area = sectionArea(loop, positions);
        if (std::abs(turned) > kPi && (!best || area < bestArea)) {
            best = std::move(loop);
            bestArea = area;
        }
    }
    return best;
}

} // namespace hobble
