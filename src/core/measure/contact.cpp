#include "core/measure/contact.h"

#include "core/measure/region.h"

#include "core/measure/subject.h"
#include "core/measure/volume.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <queue>
#include <unordered_map>

namespace hobble {

namespace {

// A patch in one piece whose normals all have a direction in common lies over a plane like a roof and does
// not meet itself (Volino and Magnenat-Thalmann 1994, "Efficient Self-Collision Detection on Smoothly
// Discretized Surface Animations using Geometrical Shape Regularity"). That holds as long as its outline does
// not wind about itself, as only a spiral stair does; patches are kept small enough for none to hide in one.
constexpr std::uint32_t kLargestPatch = 4096;

// A triangle drawn out so far is a tear, told as stretch or spike: what it goes through on its way is no
// flesh in flesh.
constexpr float kTorn = 4;

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

// Boxes and facing of all nodes, from the triangles up.
void refit(const ContactSetup& setup, const std::vector<Vec3>& p, ContactScratch& out) {
    const auto& nodes = setup.tree.nodes;
    triangleBoxes(setup.corners, p, out.triangles);
    out.boxes.low.resize(nodes.size());
    out.boxes.high.resize(nodes.size());
    out.facing.resize(nodes.size());
    const TriangleBoxes& t = out.triangles;
    for (std::size_t n = nodes.size(); n-- > 0;) {
        const auto [first, count] = nodes[n];
        Vec3 &low = out.boxes.low[n], &high = out.boxes.high[n];
        if (count == 0) {
            low = out.boxes.low[first].cwiseMin(out.boxes.low[first + 1]);
            high = out.boxes.high[first].cwiseMax(out.boxes.high[first + 1]);
            out.facing[n] = out.facing[first] & out.facing[first + 1];
            continue;
        }
        for (int axis = 0; axis < 3; ++axis) {
            const float *l = &t.low[axis][first], *h = &t.high[axis][first];
            low[axis] = *std::min_element(l, l + count);
            high[axis] = *std::max_element(h, h + count);
        }
        out.facing[n] = t.facing[first];
        for (std::uint32_t i = first + 1; i < first + count; ++i)
            out.facing[n] &= t.facing[i];
    }
}

// Which nodes' triangles hang together by edges, and which nodes of one depth share an edge.
void joinNodes(const std::vector<Triangle>& triangles, ContactSetup& out) {
    const TriangleTree& tree = out.tree;
    const std::size_t count = tree.triangle.size();
    std::vector<std::pair<std::uint64_t, std::uint32_t>>
        edges; // and the place of the triangle among the leaves'
    for (std::uint32_t i = 0; i < count; ++i)
        for (int k = 0; k < 3; ++k) {
            const Triangle& f = triangles[tree.triangle[i]];
            edges.push_back({pairKey(f[k], f[(k + 1) % 3]), i});
        }
    std::sort(edges.begin(), edges.end());
    std::vector<std::pair<std::uint32_t, std::uint32_t>> joined; // places of triangles with a common edge
    for (std::size_t i = 1; i < edges.size(); ++i)
        if (edges[i].first == edges[i - 1].first)
            joined.push_back({edges[i - 1].second, edges[i].second});
    // From the leaves up: triangles of one node that are joined are one piece; a node whose pieces are one
    // hangs together. Joined triangles of two nodes make them neighbours at this depth.
    std::vector<std::uint32_t> parent(tree.nodes.size(), 0), piece(count), nodeOf(count),
        size(tree.nodes.size(), 0);
    std::vector<std::uint32_t> depth(tree.nodes.size(), 0), pieces(tree.nodes.size(), 0);
    std::uint32_t deepest = 0;
    for (std::uint32_t n = 0; n < tree.nodes.size(); ++n) {
        const auto [first, leafCount] = tree.nodes[n];
        if (leafCount == 0)
            for (std::uint32_t child : {first, first + 1}) {
                parent[child] = n;
                depth[child] = depth[n] + 1;
            }
        for (std::uint32_t i = first; i < first + leafCount; ++i)
            nodeOf[i] = n;
        deepest = std::max(deepest, depth[n]);
    }
    for (std::size_t n = tree.nodes.size(); n-- > 0;)
        size[n] = pieces[n] = tree.nodes[n].count ? tree.nodes[n].count : 0;
    std::iota(piece.begin(), piece.end(), 0u);
    const auto root = [&](std::uint32_t i) {
        while (piece[i] != i)
            i = piece[i] = piece[piece[i]];
        return i;
    };
    out.onePiece.assign(tree.nodes.size(), 0);
    std::vector<std::pair<std::uint32_t, std::uint32_t>> beside;
    for (std::uint32_t level = deepest + 1; level-- > 0;) {
        std::vector<std::pair<std::uint32_t, std::uint32_t>> across;
        std::size_t kept = 0;
        for (const auto& [a, b] : joined) {
            if (nodeOf[a] != nodeOf[b]) {
                across.push_back(std::minmax(nodeOf[a], nodeOf[b]));
                joined[kept++] = {a, b};
            } else if (const auto x = root(a), y = root(b); x != y) {
                piece[x] = y;
                --pieces[nodeOf[a]];
            }
        }
        joined.resize(kept);
        std::sort(across.begin(), across.end());
        across.erase(std::unique(across.begin(), across.end()), across.end());
        beside.insert(beside.end(), across.begin(), across.end());
        std::vector<char> met(tree.nodes.size(), 0);
        for (std::uint32_t i = 0; i < count; ++i) {
            std::uint32_t& n = nodeOf[i];
            if (!met[n]) {
                met[n] = 1;
                out.onePiece[n] = pieces[n] == 1 && size[n] <= kLargestPatch;
                if (depth[n] == level && level > 0) {
                    size[parent[n]] += size[n];
                    pieces[parent[n]] += pieces[n];
                }
            }
        }
        for (std::uint32_t i = 0; i < count; ++i) // a leaf of lesser depth waits
            if (depth[nodeOf[i]] == level && level > 0)
                nodeOf[i] = parent[nodeOf[i]];
    }
    std::sort(beside.begin(), beside.end());
    beside.erase(std::unique(beside.begin(), beside.end()), beside.end());
    out.beside.first.assign(tree.nodes.size() + 1, 0);
    for (const auto& [a, b] : beside) {
        ++out.beside.first[a + 1];
        out.beside.item.push_back(b);
    }
    std::partial_sum(out.beside.first.begin(), out.beside.first.end(), out.beside.first.begin());
}

// Whether two nodes make one patch that does not meet itself.
bool likeARoof(const ContactSetup& setup, const std::vector<std::uint32_t>& facing, std::uint32_t i,
               std::uint32_t j) {
    if (!(facing[i] & facing[j]) || !setup.onePiece[i] || !setup.onePiece[j])
        return false;
    const auto [a, b] = std::minmax(i, j);
    return i == j || std::find(setup.beside.begin(a), setup.beside.end(a), b) != setup.beside.end(a);
}

// Which part and which joint each node belongs to, if only one.
void ownersOfNodes(const Surface& s, const Character& c, ContactSetup& out) {
    constexpr std::int32_t several = -1;
    std::vector<std::int32_t> jointOf(s.vertexCount(), several);
    for (std::uint32_t v = 0; v < jointOf.size(); ++v)
        if (s.weights.first[v + 1] - s.weights.first[v] == 1)
            jointOf[v] = s.weights.joint[s.weights.first[v]];
    for (const Part& part : c.parts)
        for (const ShapeTarget& target : part.targets) // shapes move skin against itself
            for (std::uint32_t v : target.vertex)
                jointOf[s.weldOf[part.firstVertex + v]] = several;
    const auto both = [](std::int32_t a, std::int32_t b) { return a == b ? a : several; };
    const auto& nodes = out.tree.nodes;
    out.nodePart.resize(nodes.size());
    out.nodeJoint.resize(nodes.size());
    for (std::size_t n = nodes.size(); n-- > 0;) {
        const auto [first, count] = nodes[n];
        if (count == 0) {
            out.nodePart[n] = both(out.nodePart[first], out.nodePart[first + 1]);
            out.nodeJoint[n] = both(out.nodeJoint[first], out.nodeJoint[first + 1]);
            continue;
        }
        out.nodePart[n] = static_cast<std::int32_t>(out.partOf[out.tree.triangle[first]]);
        out.nodeJoint[n] = jointOf[out.corners[first][0]];
        for (std::uint32_t i = first; i < first + count; ++i) {
            out.nodePart[n] =
                both(out.nodePart[n], static_cast<std::int32_t>(out.partOf[out.tree.triangle[i]]));
            for (std::uint32_t v : out.corners[i])
                out.nodeJoint[n] = both(out.nodeJoint[n], jointOf[v]);
        }
    }
}

// Whether two nodes go rigidly together, or are of parts that may sit in each other.
bool neverMeet(const ContactSetup& setup, std::size_t parts, std::uint32_t i, std::uint32_t j) {
    const std::int32_t p = setup.nodePart[i], q = setup.nodePart[j];
    return (setup.nodeJoint[i] >= 0 && setup.nodeJoint[i] == setup.nodeJoint[j]) ||
           (p >= 0 && q >= 0 &&
            !setup.mayMeet[static_cast<std::size_t>(p) * parts + static_cast<std::size_t>(q)]);
}

using Four = Eigen::Array4f;

// Calls `found(a, b)` for the triangles of two leaves, or of one, whose boxes meet and that share no vertex.
template <class Found>
void leavesMeet(const ContactSetup& setup, const ContactScratch& scratch, std::uint32_t i, std::uint32_t j,
                const Found& found) {
    static_assert(TriangleTree::kLeaf == 4);
    const TriangleBoxes& t = scratch.triangles;
    const auto &a = setup.tree.nodes[i], &b = setup.tree.nodes[j];
    const auto four = [&](const std::vector<float>& from) { return Four(Four::Map(&from[b.first])); };
    const Four low[3] = {four(t.low[0]), four(t.low[1]), four(t.low[2])},
               high[3] = {four(t.high[0]), four(t.high[1]), four(t.high[2])};
    for (std::uint32_t x = a.first; x < a.first + a.count; ++x) {
        Four apart = (low[0] - t.high[0][x]).max(t.low[0][x] - high[0]);
        for (int axis = 1; axis < 3; ++axis)
            apart = apart.max((low[axis] - t.high[axis][x]).max(t.low[axis][x] - high[axis]));
        for (std::uint32_t y = i == j ? x + 1 : b.first; y < b.first + b.count; ++y)
            if (apart[y - b.first] <= 0 && !shareVertex(setup.corners[x], setup.corners[y]))
                found(setup.tree.triangle[x], setup.tree.triangle[y]);
    }
}

// Calls `found(a, b)` for each pair of triangles whose boxes meet and that could cross. `leave` leaves out
// pairs of nodes.
template <class Leave, class Found>
void nearPairs(const ContactSetup& setup, const ContactScratch& scratch, const Leave& leave,
               const Found& found) {
    const TriangleTree& tree = setup.tree;
    if (tree.nodes.empty())
        return;
    std::vector<std::pair<std::uint32_t, std::uint32_t>> stack{{0, 0}};
    while (!stack.empty()) {
        const auto [i, j] = stack.back();
        stack.pop_back();
        if (leave(i, j))
            continue;
        if ((i != j && !boxesMeet(scratch.boxes, i, j)) || likeARoof(setup, scratch.facing, i, j))
            continue;
        const auto &a = tree.nodes[i], &b = tree.nodes[j];
        if (a.count && b.count) {
            leavesMeet(setup, scratch, i, j, found);
        } else if (i == j) {
            stack.push_back({a.first, a.first});
            stack.push_back({a.first + 1, a.first + 1});
            stack.push_back({a.first, a.first + 1});
        } else { // both halved, so that both are of one depth
            for (std::uint32_t x = a.count ? i : a.first; x <= (a.count ? i : a.first + 1); ++x)
                for (std::uint32_t y = b.count ? j : b.first; y <= (b.count ? j : b.first + 1); ++y)
                    stack.push_back({x, y});
        }
    }
}

} // namespace

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

// From crossing triangles inwards over the surface, as long as vertices lie inside flesh; `found(v, depth)`
// for each. False when cancelled on the way.
template <class Cancelled, class Found>
bool walkInside(const Surface& surface, const ContactSetup& setup, const ContactScratch& scratch,
                const std::vector<Vec3>& posed, double height, const std::vector<std::uint32_t>& crossing,
                const Cancelled& cancelled, const Found& found) {
    const auto& triangles = surface.triangles;
    const auto parts =
        static_cast<std::size_t>(std::lround(std::sqrt(static_cast<double>(setup.mayMeet.size()))));
    std::vector<std::uint32_t> queue;
    for (std::uint32_t t : crossing)
        queue.insert(queue.end(), triangles[t].begin(), triangles[t].end());
    std::vector<std::pair<std::uint32_t, float>> inside;
    std::vector<char> asked(surface.vertexCount(), 0);
    const auto reach = static_cast<float>(0.2 * height);
    while (!queue.empty()) {
        const std::uint32_t v = queue.back();
        queue.pop_back();
        if (asked[v])
            continue;
        if (cancelled())
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
                const RayHit hit =
                    castRay(setup.tree, scratch.boxes, triangles, posed, posed[v], way, from, most, v);
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
    for (const auto& [v, depth] : inside)
        found(v, depth);
    return true;
}

// Per shell, whether it is a sheet: the area of its openings, as flat as they are, against its own.
std::vector<char> sheets(const Surface& s, const std::vector<Vec3>& neutral) {
    constexpr double kOpenings = 0.03;
    std::vector<double> area(s.openShell.size(), 0);
    std::vector<std::vector<std::uint32_t>> of(s.openShell.size());
    for (std::uint32_t t = 0; t < s.triangles.size(); ++t) {
        const auto shell = static_cast<std::size_t>(s.shellOf[s.triangles[t][0]]);
        area[shell] += static_cast<double>(s.area[t]);
        if (s.openShell[shell])
            of[shell].push_back(t);
    }
    std::vector<char> out(s.openShell.begin(), s.openShell.end());
    for (std::size_t shell = 0; shell < out.size(); ++shell) {
        if (!out[shell])
            continue;
        const auto closed = closeVolume(s, std::move(of[shell]), neutral);
        if (!closed || closed->neutral <= 0)
            continue;
        double open = 0;
        for (const auto& loop : closed->loops) {
            Vec3d sum = Vec3d::Zero();
            for (std::size_t i = 0; i < loop.size(); ++i)
                sum += neutral[loop[i]].cast<double>().cross(
                    neutral[loop[(i + 1) % loop.size()]].cast<double>());
            open += 0.5 * sum.norm();
        }
        out[shell] = open > kOpenings * area[shell];
    }
    return out;
}

} // namespace

ContactSetup prepareContact(const Surface& s, const Character& c, const std::vector<Vec3>& neutral,
                            double height, const std::atomic<bool>* cancel) {
    ContactSetup out;
    const std::size_t parts = c.parts.size();
    const std::vector<char> sheet = // a lone sheet is all there is to look at
        parts > 1 ? sheets(s, neutral) : std::vector<char>(s.openShell.size(), 0);
    out.partOf.resize(s.triangles.size());
    std::vector<std::uint32_t> all;
    for (std::uint32_t t = 0; t < s.triangles.size(); ++t) {
        if (!sheet[static_cast<std::size_t>(s.shellOf[s.triangles[t][0]])])
            all.push_back(t);
        const std::uint32_t file = s.fileTriangle[t];
        const auto it = std::upper_bound(c.parts.begin(), c.parts.end(), file,
                                         [](std::uint32_t x, const Part& p) { return x < p.firstTriangle; });
        out.partOf[t] = static_cast<std::uint32_t>(it - c.parts.begin()) - 1;
    }
    out.tree = buildTree(s.triangles, all, neutral);
    out.mayMeet.assign(parts * parts, 1);
    for (std::uint32_t t : out.tree.triangle)
        out.corners.push_back(s.triangles[t]);
    joinNodes(s.triangles, out);
    ownersOfNodes(s, c, out);
    ContactScratch scratch;
    refit(out, neutral, scratch);
    const auto none = [cancel](std::uint32_t, std::uint32_t) { // a stop prunes whatever is left
        return cancel && cancel->load(std::memory_order_relaxed);
    };
    nearPairs(out, scratch, none, [&](std::uint32_t a, std::uint32_t b) {
        if (!trianglesCross(s.triangles[a], s.triangles[b], neutral))
            return;
        const std::size_t p = out.partOf[a], q = out.partOf[b];
        if (p != q) // made to sit in each other: a nose in its muzzle, teeth in their gums
            out.mayMeet[p * parts + q] = out.mayMeet[q * parts + p] = 0;
        else
            out.neutralPairs.insert(pairKey(a, b));
    });
    out.neutralDepth.assign(s.vertexCount(), 0);
    std::vector<std::uint32_t> crossing;
    for (std::uint64_t pair : out.neutralPairs)
        crossing.insert(crossing.end(),
                        {static_cast<std::uint32_t>(pair >> 32), static_cast<std::uint32_t>(pair)});
    std::sort(crossing.begin(), crossing.end());
    crossing.erase(std::unique(crossing.begin(), crossing.end()), crossing.end());
    walkInside(
        s, out, scratch, neutral, height, crossing,
        [cancel] { return cancel && cancel->load(std::memory_order_relaxed); },
        [&](std::uint32_t v, float depth) { out.neutralDepth[v] = depth; });
    return out;
}

bool contacts(const Subject& s, const MotionRegion& region, const std::vector<Vec3>& posed,
              ContactScratch& scratch, Contact& out, const std::atomic<bool>* cancel) {
    const auto cancelled = [&] { return cancel && cancel->load(std::memory_order_relaxed); };
    const ContactSetup& setup = s.contact;
    const auto& triangles = s.surface.triangles;
    const std::size_t parts = s.character->parts.size();
    out = {};
    refit(setup, posed, scratch);
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
    const auto leave = [&](std::uint32_t i, std::uint32_t j) {
        return (scratch.kind[i] == scratch.kind[j] && scratch.kind[i] != 2) || neverMeet(setup, parts, i, j);
    };
    const auto torn = [&](std::uint32_t t) {
        const auto& [a, b, c] = triangles[t];
        return strainOf(s.rest[t], posed[a], posed[b], posed[c]).stretch > kTorn;
    };
    nearPairs(setup, scratch, leave, [&](std::uint32_t a, std::uint32_t b) {
        if (setup.mayMeet[setup.partOf[a] * parts + setup.partOf[b]] &&
            trianglesCross(triangles[a], triangles[b], posed) && !setup.neutralPairs.count(pairKey(a, b)) &&
            !torn(a) && !torn(b))
            out.pairs.push_back(std::minmax(a, b));
    });
    std::sort(out.pairs.begin(), out.pairs.end());
    if (cancelled())
        return false;
    std::vector<std::uint32_t> crossing;
    for (const auto& [a, b] : out.pairs)
        crossing.insert(crossing.end(), {a, b});
    std::sort(crossing.begin(), crossing.end());
    crossing.erase(std::unique(crossing.begin(), crossing.end()), crossing.end());
    for (std::uint32_t t : crossing)
        out.area += s.surface.area[t];
    return walkInside(s.surface, setup, scratch, posed, s.body.height, crossing, cancelled,
                      [&](std::uint32_t v, float depth) {
                          // What lay in flesh in neutral already counts only for how much deeper it goes.
                          depth -= setup.neutralDepth[v];
                          if (depth <= 0)
                              return;
                          out.inside.push_back({v, depth});
                          out.deepest = std::max(out.deepest, depth);
                      }) &&
           (std::sort(out.inside.begin(), out.inside.end()), true);
}

} // namespace hobble
