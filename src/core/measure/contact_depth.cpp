#include "core/measure/contact_depth.h"

#include <algorithm>
#include <cmath>
#include <queue>
#include <unordered_map>

namespace hobble {

namespace {

// A depth is a distance, and grows from vertex to vertex by no more than they lie apart, from 0 where skin is
// not inside. What a ray finds that is more than that has slipped through a hole or along a crease.
void holdToNeighbours(const Surface& surface, const std::vector<Vec3>& posed,
                      std::vector<std::pair<std::uint32_t, float>>& inside) {
    std::unordered_map<std::uint32_t, float> depth(inside.begin(), inside.end());
    using Entry = std::pair<float, std::uint32_t>;
    std::priority_queue<Entry, std::vector<Entry>, std::greater<>> open; // Dijkstra 1959
    for (auto& [v, d] : inside) {
        float most = d;
        for (auto n = surface.neighbours.begin(v); n != surface.neighbours.end(v); ++n)
            if (!depth.count(*n))
                most = std::min(most, (posed[v] - posed[*n]).norm());
        depth[v] = most;
        open.push({most, v});
    }
    while (!open.empty()) {
        const auto [d, v] = open.top();
        open.pop();
        if (d > depth[v])
            continue;
        for (auto n = surface.neighbours.begin(v); n != surface.neighbours.end(v); ++n)
            if (const auto at = depth.find(*n);
                at != depth.end() && d + (posed[v] - posed[*n]).norm() < at->second) {
                at->second = d + (posed[v] - posed[*n]).norm();
                open.push({at->second, *n});
            }
    }
    for (auto& [v, d] : inside)
        d = depth[v];
}

} // namespace

bool depthsInside(const Surface& surface, const ContactSetup& setup, const Boxes& boxes,
                  const std::vector<Vec3>& posed, double height, const std::vector<std::uint32_t>& crossing,
                  const std::atomic<bool>* cancel, std::vector<std::pair<std::uint32_t, float>>& inside) {
    const auto& triangles = surface.triangles;
    const auto parts =
        static_cast<std::size_t>(std::lround(std::sqrt(static_cast<double>(setup.mayMeet.size()))));
    std::vector<std::uint32_t> queue;
    for (std::uint32_t t : crossing)
        queue.insert(queue.end(), triangles[t].begin(), triangles[t].end());
    inside.clear();
    std::vector<char> asked(surface.vertexCount(), 0);
    const auto reach = static_cast<float>(0.2 * height);
    while (!queue.empty()) {
        const std::uint32_t v = queue.back();
        queue.pop_back();
        if (asked[v])
            continue;
        if (cancel && cancel->load(std::memory_order_relaxed))
            return false;
        asked[v] = 1;
        Vec3 normal = Vec3::Zero();
        for (auto t = surface.trianglesAt.begin(v); t != surface.trianglesAt.end(v); ++t)
            normal += (posed[triangles[*t][1]] - posed[triangles[*t][0]])
                          .cross(posed[triangles[*t][2]] - posed[triangles[*t][0]]);
        if (normal.norm() <= 0)
            continue;
        normal.normalize();
        const std::size_t part = setup.partOf[*surface.trianglesAt.begin(v)];
        // Where a ray leaves the flesh around it: the first way out that is not the end of something it
        // entered.
        auto wayOut = [&](const Vec3& way, float most) {
            float from = 1e-6f;
            for (int entered = 0, hits = 0; hits < 8; ++hits) {
                const RayHit hit = castRay(setup.tree, boxes, triangles, posed, posed[v], way, from, most, v);
                if (hit.triangle == ~0u || !setup.mayMeet[part * parts + setup.partOf[hit.triangle]])
                    return INFINITY;
                if (hit.fromBehind && entered-- == 0)
                    return hit.distance;
                entered += !hit.fromBehind;
                from = hit.distance + 1e-5f;
            }
            return INFINITY;
        };
        // Two of three rays outwards have to agree: one alone slips through a mouth or along a crease.
        const Vec3 side = normal.unitOrthogonal(), other = normal.cross(side);
        float depth = wayOut(normal, reach);
        const float tilted = wayOut((normal + side).normalized(), reach);
        int leave = (depth < INFINITY) + (tilted < INFINITY);
        depth = std::min(depth, tilted);
        if (leave == 1) {
            const float third = wayOut((normal - side).normalized(), reach);
            leave += third < INFINITY;
            depth = std::min(depth, third);
        }
        if (leave < 2)
            continue;
        for (const Vec3& way : {Vec3(normal - side), Vec3(normal + other), Vec3(normal - other), side,
                                Vec3(-side), other, Vec3(-other), Vec3(-normal), Vec3(side - normal),
                                Vec3(-side - normal), Vec3(other - normal), Vec3(-other - normal)})
            depth = std::min(depth, wayOut(way.normalized(), depth));
        inside.push_back({v, depth});
        queue.insert(queue.end(), surface.neighbours.begin(v), surface.neighbours.end(v));
    }
    holdToNeighbours(surface, posed, inside);
    return true;
}

} // namespace hobble
