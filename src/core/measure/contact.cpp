#include "core/measure/contact.h"

#include "core/measure/region.h"

#include "core/measure/subject.h"

#include <algorithm>

namespace hobble {

namespace {

bool boxesMeet(const Boxes& b, std::uint32_t i, std::uint32_t j) {
    return (b.low[i].array() <= b.high[j].array()).all() && (b.low[j].array() <= b.high[i].array()).all();
}

std::uint64_t pairKey(std::uint32_t a, std::uint32_t b) {
    return a < b ? (std::uint64_t(a) << 32 | b) : (std::uint64_t(b) << 32 | a);
}

bool shareVertex(const Triangle& a, const Triangle& b) {
    for (std::uint32_t v : a)
        if (v == b[0] || v == b[1] || v == b[2])
            return true;
    return false;
}

// Calls `found(a, b)` for each crossing pair. `kind`, when given, leaves out nodes that do not move against
// each other.
template <class Found>
void crossings(const TriangleTree& tree, const Boxes& boxes, const std::vector<char>* kind,
               const std::vector<Triangle>& triangles, const Found& found) {
    if (tree.nodes.empty())
        return;
    std::vector<std::pair<std::uint32_t, std::uint32_t>> stack{{0, 0}};
    while (!stack.empty()) {
        const auto [i, j] = stack.back();
        stack.pop_back();
        if (kind && (*kind)[i] == (*kind)[j] && (*kind)[i] != 2)
            continue;
        if (i != j && !boxesMeet(boxes, i, j))
            continue;
        const auto &a = tree.nodes[i], &b = tree.nodes[j];
        if (i == j && a.count == 0) {
            stack.push_back({a.first, a.first});
            stack.push_back({a.first + 1, a.first + 1});
            stack.push_back({a.first, a.first + 1});
        } else if (a.count && b.count) {
            for (std::uint32_t x = a.first; x < a.first + a.count; ++x)
                for (std::uint32_t y = i == j ? x + 1 : b.first; y < b.first + b.count; ++y) {
                    const std::uint32_t s = tree.triangle[x], t = tree.triangle[y];
                    if (!shareVertex(triangles[s], triangles[t]))
                        found(s, t);
                }
        } else if (b.count || (a.count == 0 && (boxes.high[i] - boxes.low[i]).squaredNorm() >
                                                   (boxes.high[j] - boxes.low[j]).squaredNorm())) {
            stack.push_back({a.first, j});
            stack.push_back({a.first + 1, j});
        } else {
            stack.push_back({i, b.first});
            stack.push_back({i, b.first + 1});
        }
    }
}

// The box of one triangle against another's, before the six edges are tried.
bool near(const Triangle& a, const Triangle& b, const std::vector<Vec3>& p) {
    const Vec3 lowA = p[a[0]].cwiseMin(p[a[1]]).cwiseMin(p[a[2]]),
               highA = p[a[0]].cwiseMax(p[a[1]]).cwiseMax(p[a[2]]);
    const Vec3 lowB = p[b[0]].cwiseMin(p[b[1]]).cwiseMin(p[b[2]]),
               highB = p[b[0]].cwiseMax(p[b[1]]).cwiseMax(p[b[2]]);
    return (lowA.array() <= highB.array()).all() && (lowB.array() <= highA.array()).all();
}

} // namespace

ContactSetup prepareContact(const Surface& s, const Character& c, const std::vector<Vec3>& neutral,
                            const std::vector<char>& openShell) {
    ContactSetup out;
    const std::size_t parts = c.parts.size();
    out.partOf.resize(s.triangles.size());
    std::vector<std::uint32_t> all;
    for (std::uint32_t t = 0; t < s.triangles.size(); ++t) {
        if (openShell.empty() || !openShell[s.shellOf[s.triangles[t][0]]])
            all.push_back(t);
        const std::uint32_t file = s.fileTriangle[t];
        const auto it = std::upper_bound(c.parts.begin(), c.parts.end(), file,
                                         [](std::uint32_t x, const Part& p) { return x < p.firstTriangle; });
        out.partOf[t] = static_cast<std::uint32_t>(it - c.parts.begin()) - 1;
    }
    out.tree = buildTree(s.triangles, all, neutral);
    out.mayMeet.assign(parts * parts, 1);
    Boxes boxes;
    refit(out.tree, s.triangles, neutral, boxes);
    crossings(out.tree, boxes, nullptr, s.triangles, [&](std::uint32_t a, std::uint32_t b) {
        if (!near(s.triangles[a], s.triangles[b], neutral) ||
            !trianglesCross(s.triangles[a], s.triangles[b], neutral))
            return;
        const std::size_t p = out.partOf[a], q = out.partOf[b];
        if (p != q) // made to sit in each other: a nose in its muzzle, teeth in their gums
            out.mayMeet[p * parts + q] = out.mayMeet[q * parts + p] = 0;
        else
            out.neutralPairs.insert(pairKey(a, b));
    });
    return out;
}

void contacts(const Subject& s, const MotionRegion& region, const std::vector<Vec3>& posed,
              ContactScratch& scratch, Contact& out) {
    const ContactSetup& setup = s.contact;
    const auto& triangles = s.surface.triangles;
    const std::size_t parts = s.character->parts.size();
    out = {};
    refit(setup.tree, triangles, posed, scratch.boxes);
    if (scratch.forRegion != &region) {
        scratch.forRegion = &region;
        scratch.kind.assign(setup.tree.nodes.size(), 2);
        for (std::size_t n = setup.tree.nodes.size(); n-- > 0;) {
            const auto [first, count] = setup.tree.nodes[n];
            if (count == 0) {
                scratch.kind[n] =
                    scratch.kind[first] == scratch.kind[first + 1] ? scratch.kind[first] : char(2);
                continue;
            }
            int seen = -1;
            for (std::uint32_t i = first; i < first + count; ++i)
                for (std::uint32_t v : triangles[setup.tree.triangle[i]]) {
                    bool stays = region.numberOf[v] == MotionRegion::kNone, goes = stays;
                    for (const auto& f : region.follow) {
                        stays = stays && f[v] < 0.5f;
                        goes = goes && f[v] > 0.5f;
                    }
                    const int kind = stays ? 0 : goes ? 1 : 2;
                    seen = seen < 0 || seen == kind ? kind : 2;
                }
            scratch.kind[n] = static_cast<char>(seen);
        }
    }
    crossings(setup.tree, scratch.boxes, &scratch.kind, triangles, [&](std::uint32_t a, std::uint32_t b) {
        if (setup.mayMeet[setup.partOf[a] * parts + setup.partOf[b]] &&
            near(triangles[a], triangles[b], posed) && trianglesCross(triangles[a], triangles[b], posed) &&
            !setup.neutralPairs.count(pairKey(a, b)))
            out.pairs.push_back(std::minmax(a, b));
    });
    std::sort(out.pairs.begin(), out.pairs.end());
    if (out.pairs.empty())
        return;
    std::vector<std::uint32_t> crossing, queue;
    for (const auto& [a, b] : out.pairs)
        crossing.insert(crossing.end(), {a, b});
    std::sort(crossing.begin(), crossing.end());
    crossing.erase(std::unique(crossing.begin(), crossing.end()), crossing.end());
    for (std::uint32_t t : crossing) {
        out.area += s.surface.area[t];
        queue.insert(queue.end(), triangles[t].begin(), triangles[t].end());
    }
    // From the crossing inwards over the surface, as long as vertices lie inside.
    std::vector<char> asked(s.surface.vertexCount(), 0);
    const auto reach = static_cast<float>(0.2 * s.body.height);
    while (!queue.empty()) {
        const std::uint32_t v = queue.back();
        queue.pop_back();
        if (asked[v])
            continue;
        asked[v] = 1;
        Vec3 normal = Vec3::Zero();
        for (auto t = s.surface.trianglesAt.begin(v); t != s.surface.trianglesAt.end(v); ++t)
            normal += (posed[triangles[*t][1]] - posed[triangles[*t][0]])
                          .cross(posed[triangles[*t][2]] - posed[triangles[*t][0]]);
        if (normal.norm() <= 0)
            continue;
        normal.normalize();
        const std::size_t part = setup.partOf[*s.surface.trianglesAt.begin(v)];
        auto wayOut = [&](const Vec3& way, float most) {
            const RayHit hit =
                castRay(setup.tree, scratch.boxes, triangles, posed, posed[v], way, 1e-6f, most, v);
            const bool leaves = hit.triangle != ~0u && hit.fromBehind &&
                                setup.mayMeet[part * parts + setup.partOf[hit.triangle]];
            return leaves ? hit.distance : INFINITY;
        };
        float depth = wayOut(normal, reach);
        if (depth == INFINITY)
            continue;
        const Vec3 side = normal.unitOrthogonal(), other = normal.cross(side);
        for (const Vec3& way :
             {Vec3(normal + side), Vec3(normal - side), Vec3(normal + other), Vec3(normal - other), side,
              Vec3(-side), other, Vec3(-other), Vec3(-normal), Vec3(side - normal), Vec3(-side - normal),
              Vec3(other - normal), Vec3(-other - normal)})
            depth = std::min(depth, wayOut(way.normalized(), depth));
        out.inside.push_back({v, depth});
        out.deepest = std::max(out.deepest, depth);
        queue.insert(queue.end(), s.surface.neighbours.begin(v), s.surface.neighbours.end(v));
    }
    std::sort(out.inside.begin(), out.inside.end());
}

} // namespace hobble
