#include "core/measure/contact_depth.h"

#include "core/measure/contact_pairs.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <queue>

namespace hobble {

namespace {

constexpr float kOutside = std::numeric_limits<float>::infinity();
constexpr std::size_t kAskedOf = 16; // vertices of a patch, one
constexpr int kTrusted = 8; // steps over edges that nothing goes through, until a vertex is asked for itself

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

    // How often flesh lies around a vertex, counted along rays outwards: a way out is one more, a way in one
    // less. Two of three have to agree: one alone slips through a mouth or along a crease.
    bool inside(std::uint32_t v) const {
        const Vec3 n = normal(v);
        if (n.isZero())
            return false;
        const Vec3 side = 0.5f * n.unitOrthogonal();
        int is = 0, isNot = 0;
        for (const Vec3& way : {n, Vec3((n + side).normalized()), Vec3((n - side).normalized())}) {
            int around = 0;
            castThrough(setup_.tree, boxes_, surface_.triangles, posed_, posed_[v], way, v,
                        [&](std::uint32_t t, bool fromBehind) {
                            if (mayMeet(v, t))
                                around += fromBehind ? 1 : -1;
                        });
            ++(around > 0 ? is : isNot);
            if (is == 2 || isNot == 2)
                break;
        }
        return is == 2;
    }

    // The shortest of fourteen ways out.
    WayOut byRays(std::uint32_t v, float most) const {
        const Vec3 n = normal(v), side = n.unitOrthogonal(), other = n.cross(side);
        WayOut shortest;
        shortest.distance = std::min(most, reach_);
        for (const Vec3& way :
             {n, Vec3(n + side), Vec3(n - side), Vec3(n + other), Vec3(n - other), side, Vec3(-side), other,
              Vec3(-other), Vec3(-n), Vec3(side - n), Vec3(-side - n), Vec3(other - n), Vec3(-other - n)})
            if (const WayOut out = wayOut(v, way.normalized(), shortest.distance); out.triangle != ~0u)
                shortest = out;
        return shortest;
    }

    // The nearest place seen from behind, nearer than `most`; where something is entered on the way there,
    // the shortest way that rays find.
    WayOut nearest(std::uint32_t v, float most) const {
        const WayOut out = nearestFromBehind(setup_.tree, boxes_, surface_.triangles, posed_, posed_[v], most,
                                             [&](std::uint32_t t) { return !isOf(t, v) && mayMeet(v, t); });
        if (out.triangle == ~0u || !(out.distance > 1e-6f))
            return out;
        const RayHit hit = castRay(setup_.tree, boxes_, surface_.triangles, posed_, posed_[v],
                                   (out.at - posed_[v]) / out.distance, 1e-6f, 0.999f * out.distance, v);
        return hit.triangle != ~0u && !hit.fromBehind && mayMeet(v, hit.triangle) ? byRays(v, most) : out;
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
    WayOut wayOut(std::uint32_t v, const Vec3& way, float most) const {
        float from = 1e-6f;
        for (int entered = 0, hits = 0; hits < 8; ++hits) {
            const RayHit hit =
                castRay(setup_.tree, boxes_, surface_.triangles, posed_, posed_[v], way, from, most, v);
            if (hit.triangle == ~0u || !mayMeet(v, hit.triangle))
                return {};
            if (hit.fromBehind && entered-- == 0)
                return {hit.distance, hit.triangle, posed_[v] + hit.distance * way};
            entered += !hit.fromBehind;
            from = hit.distance + 1e-5f;
        }
        return {};
    }
};

// On which side vertices lie, as they were asked or as their neighbours are.
class Sides {
public:
    Sides(const Surface& surface, const SkinCrossing& crossing, const SkinCrossing& neutral,
          const Flesh& flesh)
        : surface_(surface), crossing_(crossing), neutral_(neutral), flesh_(flesh),
          of_(surface.vertexCount()) {}

    // Vertices at the lines of intersection hang together in patches by edges that nothing goes through. Some
    // of a patch are asked, and all where these differ.
    void askPatches(const std::vector<std::uint32_t>& atLines) {
        std::vector<char> waits(surface_.vertexCount(), 0);
        for (std::uint32_t v : atLines)
            waits[v] = 1;
        std::vector<std::uint32_t> patch;
        for (std::uint32_t first : atLines) {
            if (!std::exchange(waits[first], 0))
                continue;
            patch.assign(1, first);
            for (std::size_t i = 0; i < patch.size(); ++i)
                atEdges(patch[i], [&](std::uint32_t n) {
                    if (std::exchange(waits[n], 0))
                        patch.push_back(n);
                });
            std::size_t inside = 0, asked = 0;
            for (std::size_t i = 0; i < patch.size(); i += kAskedOf) {
                inside += ask(patch[i]);
                ++asked;
            }
            inside += ask(patch.back());
            if (inside == 0 || inside == asked + 1)
                for (std::uint32_t v : patch) {
                    of_[v].inside = inside > 0;
                    of_[v].known = true;
                }
        }
    }

    bool ask(std::uint32_t v) {
        Side& side = of_[v];
        if (!side.asked)
            side.inside = flesh_.inside(v);
        side.asked = side.known = true;
        return side.inside;
    }
    bool isInside(std::uint32_t v) { return of_[v].known ? of_[v].inside : ask(v); }
    bool wasAsked(std::uint32_t v) const { return of_[v].asked; }

    // `next` lies as `v` does, where nothing goes through the edge between them.
    void believe(std::uint32_t v, std::uint32_t next) {
        if (goesThrough(v, next))
            return;
        of_[next].inside = of_[v].inside;
        of_[next].known = true;
    }

    // Those believed inside that hang together with one that is not: asked, and told where they are not.
    std::vector<std::uint32_t> doubted(const std::vector<std::uint32_t>& inside) {
        std::vector<std::uint32_t> out, doubtful;
        const auto doubt = [&](std::uint32_t v) {
            bool odd = false;
            atEdges(v, [&](std::uint32_t n) { odd = odd || (of_[n].known && !of_[n].inside); });
            if (odd && !of_[v].asked)
                doubtful.push_back(v);
        };
        for (std::uint32_t v : inside)
            doubt(v);
        while (!doubtful.empty()) {
            const std::uint32_t v = doubtful.back();
            doubtful.pop_back();
            if (of_[v].asked || ask(v))
                continue;
            out.push_back(v);
            atEdges(v, [&](std::uint32_t n) {
                if (of_[n].known && of_[n].inside && !of_[n].asked)
                    doubtful.push_back(n);
            });
        }
        return out;
    }

private:
    struct Side {
        bool known = false, asked = false, inside = false;
    };
    const Surface& surface_;
    const SkinCrossing &crossing_, &neutral_;
    const Flesh& flesh_;
    std::vector<Side> of_;

    // What crosses in neutral and goes rigidly together is not looked for in a pose.
    bool goesThrough(std::uint32_t a, std::uint32_t b) const {
        return crossing_.between(a, b) || neutral_.between(a, b);
    }
    template <class Each> void atEdges(std::uint32_t v, const Each& each) const {
        for (auto n = surface_.neighbours.begin(v); n != surface_.neighbours.end(v); ++n)
            if (!goesThrough(v, *n))
                each(*n);
    }
};

// A neighbour that was reached from elsewhere may know a nearer way; and where skin lies deepest, another
// side may be nearer than any that was gone over: asked in the tree, or by rays, and spread again.
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
                  const std::vector<Vec3>& posed, double height, const SkinCrossing& crossing,
                  const std::atomic<bool>* cancel, std::vector<InsideVertex>& inside) {
    inside.clear();
    if (crossing.triangles.empty())
        return true;
    const Flesh flesh(surface, setup, boxes, posed, height);
    struct Waiting {
        std::uint32_t vertex;
        float most;
        std::uint32_t start; // the triangle its neighbour gets out through, or that it crosses
        int trusted;         // steps since a vertex was asked
    };
    std::vector<Waiting> waiting;
    std::vector<char> met(surface.vertexCount(), 0);
    const auto meet = [&](std::uint32_t v, float most, std::uint32_t start, int trusted) {
        if (!std::exchange(met[v], 1))
            waiting.push_back({v, most, start, trusted});
    };
    for (const auto& [a, b] : crossing.triangles)
        for (const auto& [mine, other] : {std::pair(a, b), std::pair(b, a)})
            for (std::uint32_t v : surface.triangles[mine])
                meet(v, kOutside, other, 0);
    Sides sides(surface, crossing, setup.neutral, flesh);
    std::vector<std::uint32_t> atLines;
    for (const Waiting& w : waiting)
        atLines.push_back(w.vertex);
    sides.askPatches(atLines);
    std::vector<float> depth(surface.vertexCount(), kOutside);
    std::vector<std::uint32_t> exit(surface.vertexCount(), ~0u), found;
    for (std::size_t i = 0; i < waiting.size(); ++i) {
        if (cancel && cancel->load(std::memory_order_relaxed))
            return false;
        const auto [v, most, start, trusted] = waiting[i];
        if (!sides.isInside(v))
            continue;
        WayOut out = flesh.nearestFrom(v, most, start);
        if (out.triangle == ~0u && !sides.ask(v))
            continue;
        if (out.triangle == ~0u)
            out = flesh.nearest(v, most);
        if (out.triangle == ~0u)
            out = flesh.byRays(v, most);
        if (out.triangle == ~0u) { // as deep as its neighbour lets it be
            if (most == kOutside)
                continue;
            out.distance = most;
            out.triangle = start;
        }
        depth[v] = out.distance;
        exit[v] = out.triangle;
        found.push_back(v);
        const int steps = sides.wasAsked(v) ? 1 : trusted + 1;
        for (auto n = surface.neighbours.begin(v); n != surface.neighbours.end(v); ++n) {
            if (!met[*n] && steps < kTrusted)
                sides.believe(v, *n);
            meet(*n, 1.001f * (depth[v] + (posed[v] - posed[*n]).norm()) + 1e-6f, out.triangle, steps);
        }
    }
    // What was believed wrongly has a deepest vertex, as every patch has: that one is asked for itself.
    for (bool all = false; !all;) {
        std::vector<std::uint32_t> out;
        for (std::uint32_t v : found) {
            bool deepest = depth[v] != kOutside && !sides.wasAsked(v);
            for (auto n = surface.neighbours.begin(v); n != surface.neighbours.end(v) && deepest; ++n)
                deepest = depth[*n] == kOutside || depth[*n] <= depth[v];
            if (deepest && !sides.ask(v))
                out.push_back(v);
        }
        for (std::uint32_t v : sides.doubted(found))
            out.push_back(v);
        for (std::uint32_t v : out)
            depth[v] = kOutside;
        all = out.empty();
    }
    std::erase_if(found, [&](std::uint32_t v) { return depth[v] == kOutside; });
    spreadNearest(surface, posed, flesh, found, depth, exit);
    holdToNeighbours(surface, posed, found, depth);
    for (std::uint32_t v : found)
        inside.push_back({v, depth[v], exit[v]});
    return true;
}

} // namespace hobble
