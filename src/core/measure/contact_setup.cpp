#include "core/disjoint_sets.h"
#include "core/measure/contact_depth.h"
#include "core/measure/contact_pairs.h"
#include "core/measure/volume.h"

#include <algorithm>
#include <numeric>

namespace hobble {

namespace {

// A patch in one piece whose normals all have a direction in common lies over a plane like a roof and does
// not meet itself (Volino and Magnenat-Thalmann 1994, "Efficient Self-Collision Detection on Smoothly
// Discretized Surface Animations using Geometrical Shape Regularity"). That holds as long as its outline does
// not wind about itself, as only a spiral stair does; patches are kept small enough for none to hide in one.
constexpr std::uint32_t kLargestPatch = 4096;

// Leaves with a vertex in common, the lesser first.
std::vector<std::pair<std::uint32_t, std::uint32_t>>
leavesAtVertices(const std::vector<Triangle>& triangles, const TriangleTree& tree,
                 const std::vector<std::uint32_t>& leafOf) {
    std::vector<std::pair<std::uint32_t, std::uint32_t>> at; // vertex and leaf
    for (std::uint32_t i = 0; i < tree.triangle.size(); ++i)
        for (std::uint32_t v : triangles[tree.triangle[i]])
            at.push_back({v, leafOf[i]});
    std::sort(at.begin(), at.end());
    at.erase(std::unique(at.begin(), at.end()), at.end());
    std::vector<std::pair<std::uint32_t, std::uint32_t>> out;
    for (std::size_t i = 0; i < at.size(); ++i)
        for (std::size_t j = i + 1; j < at.size() && at[j].first == at[i].first; ++j)
            out.push_back({at[i].second, at[j].second});
    return out;
}

// Which nodes' triangles hang together by edges, and which nodes of one depth share a vertex.
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
    std::vector<std::uint32_t> parent(tree.nodes.size(), 0), nodeOf(count), size(tree.nodes.size(), 0);
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
    DisjointSets piece(count);
    out.onePiece.assign(tree.nodes.size(), 0);
    using Pair = std::pair<std::uint32_t, std::uint32_t>;
    const auto onlyOnce = [](std::vector<Pair>& pairs) {
        std::sort(pairs.begin(), pairs.end());
        pairs.erase(std::unique(pairs.begin(), pairs.end()), pairs.end());
    };
    std::vector<Pair> beside, across = leavesAtVertices(triangles, tree, nodeOf);
    for (std::uint32_t level = deepest + 1; level-- > 0;) {
        std::size_t kept = 0;
        for (const auto& [a, b] : joined) {
            if (nodeOf[a] != nodeOf[b])
                joined[kept++] = {a, b};
            else if (piece.join(a, b))
                --pieces[nodeOf[a]];
        }
        joined.resize(kept);
        onlyOnce(across);
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
        const auto up = [&](std::uint32_t n) { // a leaf of lesser depth waits
            return depth[n] == level && level > 0 ? parent[n] : n;
        };
        for (std::uint32_t& n : nodeOf)
            n = up(n);
        kept = 0;
        for (const auto& [a, b] : across)
            if (up(a) != up(b))
                across[kept++] = std::minmax(up(a), up(b));
        across.resize(kept);
    }
    onlyOnce(beside);
    std::vector<std::uint32_t> firsts(tree.nodes.size() + 1, 0), items;
    for (const auto& [a, b] : beside) {
        ++firsts[a + 1];
        items.push_back(b);
    }
    std::partial_sum(firsts.begin(), firsts.end(), firsts.begin());
    out.beside = {std::move(firsts), std::move(items)};
}

constexpr std::int32_t kSeveral = -1;

// What all leaves of a node have in common, for every node.
template <class OfLeaf>
std::vector<std::int32_t> commonToNodes(const TriangleTree& tree, const OfLeaf& ofLeaf) {
    std::vector<std::int32_t> out(tree.nodes.size());
    for (std::size_t n = out.size(); n-- > 0;) {
        const auto [first, count] = tree.nodes[n];
        if (count > 0)
            out[n] = ofLeaf(first, count);
        else
            out[n] = out[first] == out[first + 1] ? out[first] : kSeveral;
    }
    return out;
}

} // namespace

std::int32_t carrierOf(const SkinWeights& w, std::uint32_t v) {
    return w.first[v + 1] - w.first[v] == 1 ? w.joint[w.first[v]] : kSeveral;
}

std::vector<std::int32_t> nodeCarriers(const Character& c, const Surface& s, const ContactSetup& setup) {
    std::vector<std::int32_t> carrier(s.vertexCount());
    for (std::uint32_t v = 0; v < carrier.size(); ++v)
        carrier[v] = carrierOf(s.weights, v);
    for (const Part& part : c.parts)
        for (const ShapeTarget& target : part.targets) // shapes move skin against itself
            for (std::uint32_t v : target.vertex)
                carrier[s.weldOf[part.firstVertex + v]] = kSeveral;
    return commonToNodes(setup.tree, [&](std::uint32_t first, std::uint32_t count) {
        const std::int32_t joint = carrier[setup.corners[first][0]];
        for (std::uint32_t i = first; i < first + count; ++i)
            for (std::uint32_t v : setup.corners[i])
                if (carrier[v] != joint)
                    return kSeveral;
        return joint;
    });
}

ContactSetup prepareContact(const Surface& s, const Character& c, const std::vector<Vec3>& neutral,
                            const std::vector<double>& shellOpen, double height,
                            const std::atomic<bool>* cancel) {
    ContactSetup out;
    const std::size_t parts = c.parts.size();
    const auto isSheet = [&](std::size_t shell) { // a lone sheet is all there is to look at
        return parts > 1 && shellOpen[shell] > kMostOpenShell;
    };
    out.partOf.resize(s.triangles.size());
    std::vector<std::uint32_t> all;
    for (std::uint32_t t = 0; t < s.triangles.size(); ++t) {
        if (!isSheet(s.shellOf[s.triangles[t][0]]))
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
    out.nodePart = commonToNodes(out.tree, [&](std::uint32_t first, std::uint32_t count) {
        const std::uint32_t* t = &out.tree.triangle[first];
        const std::uint32_t part = out.partOf[*t];
        return std::all_of(t, t + count, [&](std::uint32_t other) { return out.partOf[other] == part; })
                   ? static_cast<std::int32_t>(part)
                   : kSeveral;
    });
    ContactScratch scratch;
    refit(out, neutral, scratch);
    const auto none = [cancel](const NodeInPose&, const NodeInPose&) { // a stop prunes whatever is left
        return cancel && cancel->load(std::memory_order_relaxed);
    };
    nearPairs(
        out, scratch, none,
        [&](std::uint32_t a, std::uint32_t b) {
            if (!trianglesCross(s.triangles[a], s.triangles[b], neutral))
                return;
            out.neutral.add(s.triangles[a], s.triangles[b], neutral);
            const std::size_t p = out.partOf[a], q = out.partOf[b];
            if (p != q) // made to sit in each other: a nose in its muzzle, teeth in their gums
                out.mayMeet[p * parts + q] = out.mayMeet[q * parts + p] = 0;
            else
                out.neutralPairs.insert(pairKey(a, b));
        },
        [&](std::uint32_t a, std::uint32_t b) {
            out.neutral.addFold(s.triangles[a], s.triangles[b], neutral);
        });
    out.neutralDepth.assign(s.vertexCount(), 0);
    for (std::uint64_t pair : out.neutralPairs)
        out.neutral.triangles.push_back(
            {static_cast<std::uint32_t>(pair >> 32), static_cast<std::uint32_t>(pair)});
    std::sort(out.neutral.triangles.begin(), out.neutral.triangles.end());
    out.neutral.sort();
    std::vector<InsideVertex> inside;
    depthsInside(s, out, scratch.boxes, neutral, height, out.neutral, cancel, inside);
    for (const InsideVertex& found : inside)
        out.neutralDepth[found.vertex] = found.depth;
    return out;
}

} // namespace hobble
