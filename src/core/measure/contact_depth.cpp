#include "core/measure/contact_depth.h"

#include "core/measure/contact_pairs.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <queue>

namespace hobble {

namespace {

constexpr float kOutside = std::numeric_limits<float>::infinity();

// A depth is a distance, and grows from vertex to vertex by no more than they lie apart, from 0 where skin is
// not inside. What is found that is more than that has slipped through a hole or along a crease.
// `depth` is kOutside where nothing is inside.
void holdToNeighbours(const Surface& surface, const std::vector<Vec3>& posed,
                      const std::vector<std::uint32_t>& inside, std::vector<float>& depth) {
    using Entry = std::pair<float, std::uint32_t>;
    std::priority_queue<Entry, std::vector<Entry>, std::greater<>> open; // Dijkstra 1959
    std::vector<float> held;
    held.reserve(inside.size());
    for (std::uint32_t v : inside) {
        float most = depth[v];
        for (auto n = surface.neighbours.begin(v); n != surface.neighbours.end(v); ++n)
            if (depth[*n] == kOutside)
                most = std::min(most, (posed[v] - posed[*n]).norm());
        held.push_back(most);
    }
    for (std::size_t i = 0; i < inside.size(); ++i)
        depth[inside[i]] = held[i];
    // Only from those that press a neighbour down.
    const auto press = [&](std::uint32_t v) {
        for (auto n = surface.neighbours.begin(v); n != surface.neighbours.end(v); ++n)
            if (depth[*n] != kOutside) {
                const float most = depth[v] + (posed[v] - posed[*n]).norm();
                if (most < depth[*n]) {
                    depth[*n] = most;
                    open.push({most, *n});
                }
            }
    };
    for (std::uint32_t v : inside)
        press(v);
    while (!open.empty()) {
        const auto [d, v] = open.top();
        open.pop();
        if (d <= depth[v])
            press(v);
    }
}

// What one vertex can be asked.
class Flesh {
public:
    Flesh(const Surface& surface, const ContactSetup& setup, const Boxes& boxes,
          const std::vector<Vec3>& posed, double height)
        : surface_(surface), setup_(setup), boxes_(boxes), posed_(posed),
          parts_(static_cast<std::size_t>(std::lround(std::sqrt(static_cast<double>(setup.mayMeet.size()))))),
          reach_(static_cast<float>(0.2 * height)) {}

    bool isOf(std::uint32_t triangle, std::uint32_t vertex) const {
        const Triangle& f = surface_.triangles[triangle];
        return f[0] == vertex || f[1] == vertex || f[2] == vertex;
    }

    bool mayMeet(std::uint32_t vertex, std::uint32_t triangle) const {
        return setup_
            .mayMeet[setup_.partOf[*surface_.trianglesAt.begin(vertex)] * parts_ + setup_.partOf[triangle]];
    }

    // Two of three rays outwards have to agree: one alone slips through a mouth or along a crease. `depth`:
    // the shortest of them.
    bool inside(std::uint32_t v, float& depth) const {
        const Vec3 n = normal(v);
        depth = kOutside;
        if (n.isZero())
            return false;
        const Vec3 side = n.unitOrthogonal();
        depth = wayOut(v, n, reach_);
        const float tilted = wayOut(v, (n + side).normalized(), reach_);
        int leave = (depth < kOutside) + (tilted < kOutside);
        depth = std::min(depth, tilted);
        if (leave == 1) {
            const float third = wayOut(v, (n - side).normalized(), reach_);
            leave += third < kOutside;
            depth = std::min(depth, third);
        }
        return leave >= 2;
    }

    // The shortest of fourteen ways out; kOutside where the vertex is not inside.
    float byRays(std::uint32_t v) const {
        float depth;
        if (!inside(v, depth))
            return kOutside;
        const Vec3 n = normal(v), side = n.unitOrthogonal(), other = n.cross(side);
        for (const Vec3& way :
             {Vec3(n - side), Vec3(n + other), Vec3(n - other), side, Vec3(-side), other, Vec3(-other),
              Vec3(-n), Vec3(side - n), Vec3(-side - n), Vec3(other - n), Vec3(-other - n)})
            depth = std::min(depth, wayOut(v, way.normalized(), depth));
        return depth;
    }

    // The nearest place seen from behind, nearer than `most`, with nothing entered on the way.
    WayOut nearest(std::uint32_t v, float most) const {
        const WayOut out = nearestFromBehind(setup_.tree, boxes_, surface_.triangles, posed_, posed_[v], most,
                                             [&](std::uint32_t t) { return !isOf(t, v) && mayMeet(v, t); });
        if (out.triangle == ~0u || !(out.distance > 1e-6f))
            return out;
        const RayHit hit = castRay(setup_.tree, boxes_, surface_.triangles, posed_, posed_[v],
                                   (out.at - posed_[v]) / out.distance, 1e-6f, 0.999f * out.distance, v);
        if (hit.triangle != ~0u && !hit.fromBehind && mayMeet(v, hit.triangle))
            return {};
        return out;
    }

    // The same, going over the surface from triangle `start` as long as it comes nearer.
    WayOut nearestFrom(std::uint32_t v, float most, std::uint32_t start) const {
        WayOut out;
        out.distance = most;
        const auto ask = [&](std::uint32_t t) {
            const WayOut found = wayOutThrough(surface_.triangles[t], t, posed_, posed_[v], out.distance);
            if (found.triangle == ~0u || isOf(t, v))
                return false;
            out = found;
            return true;
        };
        ask(start);
        for (bool nearer = true; nearer;) {
            nearer = false;
            for (std::uint32_t u : surface_.triangles[start])
                for (auto t = surface_.trianglesAt.begin(u); t != surface_.trianglesAt.end(u); ++t)
                    nearer |= *t != out.triangle && ask(*t);
            if (nearer)
                start = out.triangle;
        }
        if (out.triangle == ~0u)
            out.distance = kOutside;
        return out;
    }

private:
    const Surface& surface_;
    const ContactSetup& setup_;
    const Boxes& boxes_;
    const std::vector<Vec3>& posed_;
    std::size_t parts_;
    float reach_;

    Vec3 normal(std::uint32_t v) const {
        Vec3 sum = Vec3::Zero();
        for (auto t = surface_.trianglesAt.begin(v); t != surface_.trianglesAt.end(v); ++t) {
            const Triangle& f = surface_.triangles[*t];
            sum += (posed_[f[1]] - posed_[f[0]]).cross(posed_[f[2]] - posed_[f[0]]);
        }
        return sum.norm() > 0 ? Vec3(sum.normalized()) : Vec3(Vec3::Zero());
    }

    // Where a ray leaves the flesh around it: the first way out that is not the end of something it entered.
    float wayOut(std::uint32_t v, const Vec3& way, float most) const {
        float from = 1e-6f;
        for (int entered = 0, hits = 0; hits < 8; ++hits) {
            const RayHit hit =
                castRay(setup_.tree, boxes_, surface_.triangles, posed_, posed_[v], way, from, most, v);
            if (hit.triangle == ~0u || !mayMeet(v, hit.triangle))
                return kOutside;
            if (hit.fromBehind && entered-- == 0)
                return hit.distance;
            entered += !hit.fromBehind;
            from = hit.distance + 1e-5f;
        }
        return kOutside;
    }
};

// A neighbour that was reached from elsewhere may know a nearer way; and where skin lies deepest, another
// side may be nearer than any that was gone over: asked in the tree, and spread again.
void spreadNearest(const Surface& surface, const std::vector<Vec3>& posed, const Flesh& flesh,
                   const std::vector<std::uint32_t>& found, std::vector<float>& depth,
                   std::vector<std::uint32_t>& exit) {
    const auto neighbours = [&](std::uint32_t v, const auto& each) {
        for (auto n = surface.neighbours.begin(v); n != surface.neighbours.end(v); ++n)
            if (depth[*n] != kOutside)
                each(*n);
    };
    std::vector<std::uint32_t> waiting = found;
    std::vector<char> isDeepest(surface.vertexCount(), 0); // or was, and was asked
    while (!waiting.empty()) {
        while (!waiting.empty()) {
            const std::uint32_t v = waiting.back();
            waiting.pop_back();
            if (depth[v] == kOutside)
                continue;
            bool nearer = false;
            neighbours(v, [&](std::uint32_t n) {
                if (exit[n] == exit[v])
                    return;
                const WayOut out = flesh.nearestFrom(v, depth[v], exit[n]);
                if (out.triangle == ~0u || !(out.distance < 0.999f * depth[v]))
                    return;
                depth[v] = out.distance;
                exit[v] = out.triangle;
                nearer = true;
            });
            if (nearer)
                neighbours(v, [&](std::uint32_t n) {
                    if (depth[n] > depth[v] - (posed[v] - posed[n]).norm())
                        waiting.push_back(n);
                });
        }
        for (std::uint32_t v : found) {
            if (depth[v] == kOutside || isDeepest[v])
                continue;
            bool deepest = true;
            neighbours(v, [&](std::uint32_t n) { deepest = deepest && depth[n] <= depth[v]; });
            if (!deepest)
                continue;
            isDeepest[v] = 1;
            const WayOut out = flesh.nearest(v, depth[v]);
            if (out.triangle == ~0u || !(out.distance < 0.999f * depth[v]))
                continue;
            depth[v] = out.distance;
            exit[v] = out.triangle;
            neighbours(v, [&](std::uint32_t n) { waiting.push_back(n); });
        }
    }
}

} // namespace

bool depthsInside(const Surface& surface, const ContactSetup& setup, const Boxes& boxes,
                  const std::vector<Vec3>& posed, double height,
                  const std::vector<std::pair<std::uint32_t, std::uint32_t>>& crossing,
                  const std::atomic<bool>* cancel, std::vector<std::pair<std::uint32_t, float>>& inside) {
    inside.clear();
    if (crossing.empty())
        return true;
    const Flesh flesh(surface, setup, boxes, posed, height);
    struct Waiting {
        std::uint32_t vertex;
        float most;
        std::uint32_t start; // the triangle its neighbour gets out through, or that it crosses
    };
    std::vector<Waiting> waiting;
    std::vector<char> met(surface.vertexCount(), 0);
    const auto meet = [&](std::uint32_t v, float most, std::uint32_t start) {
        if (!std::exchange(met[v], 1))
            waiting.push_back({v, most, start});
    };
    for (const auto& [a, b] : crossing)
        for (const auto& [mine, other] : {std::pair(a, b), std::pair(b, a)})
            for (std::uint32_t v : surface.triangles[mine])
                meet(v, kOutside, other);
    std::vector<float> depth(surface.vertexCount(), kOutside);
    std::vector<std::uint32_t> exit(surface.vertexCount(), ~0u), found;
    for (std::size_t i = 0; i < waiting.size(); ++i) {
        if (cancel && cancel->load(std::memory_order_relaxed))
            return false;
        const auto [v, most, start] = waiting[i];
        float outwards;
        if (!flesh.inside(v, outwards))
            continue;
        outwards = std::min(outwards, most);
        WayOut out = flesh.nearestFrom(v, outwards, start);
        if (out.triangle == ~0u)
            out = flesh.nearest(v, outwards);
        if (out.triangle == ~0u) {
            out.distance = std::min(flesh.byRays(v), outwards);
            out.triangle = start;
        }
        depth[v] = out.distance;
        exit[v] = out.triangle;
        found.push_back(v);
        for (auto n = surface.neighbours.begin(v); n != surface.neighbours.end(v); ++n)
            meet(*n, 1.001f * (depth[v] + (posed[v] - posed[*n]).norm()) + 1e-6f, out.triangle);
    }
    spreadNearest(surface, posed, flesh, found, depth, exit);
    holdToNeighbours(surface, posed, found, depth);
    for (std::uint32_t v : found)
        inside.push_back({v, depth[v]});
    return true;
}

} // namespace hobble
