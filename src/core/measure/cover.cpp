#include "core/measure/cover.h"

#include "core/measure/region.h"

#include "core/measure/subject.h"

#include <algorithm>
#include <unordered_map>

namespace hobble {

namespace {

Vec3 faceNormal(const Triangle& f, const std::vector<Vec3>& p) {
    const Vec3 n = (p[f[1]] - p[f[0]]).cross(p[f[2]] - p[f[0]]);
    const float length = n.norm();
    return length > 0 ? Vec3(n / length) : n;
}

Vec3 vertexNormal(const Surface& s, const std::vector<Vec3>& p, std::uint32_t v) {
    Vec3 n = Vec3::Zero();
    for (auto t = s.trianglesAt.begin(v); t != s.trianglesAt.end(v); ++t)
        n += (p[s.triangles[*t][1]] - p[s.triangles[*t][0]])
                 .cross(p[s.triangles[*t][2]] - p[s.triangles[*t][0]]);
    const float length = n.norm();
    return length > 0 ? Vec3(n / length) : n;
}

} // namespace

bool movesAsOne(const Character& c, std::size_t part) {
    const Part& p = c.parts[part];
    const std::uint32_t begin = c.weights.first[p.firstVertex],
                        end = c.weights.first[p.firstVertex + p.vertexCount];
    const std::vector<std::uint16_t>& joint = c.weights.joint;
    return std::all_of(joint.begin() + begin, joint.begin() + end,
                       [&](std::uint16_t j) { return j == joint[begin]; });
}

CoverSetup prepareCover(const Subject& subject, double reach, const Progress& progress) {
    const Character& c = *subject.character;
    const Surface& s = subject.surface;
    const std::vector<Vec3>& neutral = subject.neutral;
    CoverSetup out;
    const std::size_t parts = c.parts.size();
    out.covers.assign(parts * parts, 0);
    out.trees.resize(parts);
    std::vector<std::vector<std::uint32_t>> own(parts);
    std::vector<std::uint32_t> partOfVertex(s.vertexCount()), ownerOf(s.triangles.size());
    for (std::uint32_t t = 0; t < s.triangles.size(); ++t) {
        const auto it = std::upper_bound(c.parts.begin(), c.parts.end(), s.fileTriangle[t],
                                         [](std::uint32_t x, const Part& p) { return x < p.firstTriangle; });
        const auto part = static_cast<std::uint32_t>(it - c.parts.begin()) - 1;
        own[part].push_back(t);
        ownerOf[t] = part;
        for (std::uint32_t v : s.triangles[t])
            partOfVertex[v] = part;
    }
    if (parts < 2)
        return out;
    const std::vector<char>& open = s.openShell;
    // Garments only: open sheets that several joints move, and of some size.
    std::vector<char> rigid(parts, 0);
    std::vector<std::size_t> garments;
    for (std::size_t p = 0; p < parts; ++p) {
        std::erase_if(own[p], [&](std::uint32_t t) { return !open[s.shellOf[s.triangles[t][0]]]; });
        rigid[p] = movesAsOne(c, p);
        const bool largest = std::all_of(c.parts.begin(), c.parts.end(), [&](const Part& o) {
            return o.vertexCount <= c.parts[p].vertexCount;
        });
        if (rigid[p] || largest ||
            own[p].size() < 100) // the body is what is covered, though it may have holes
            continue;
        garments.push_back(p);
    }
    double done = 0;
    for (std::size_t p : garments) {
        progress.at(done++ / static_cast<double>(garments.size()));
        std::vector<std::vector<Covered>> byInner(parts);
        std::vector<std::size_t> sizes(parts, 0);
        for (std::uint32_t v = 0; v < s.vertexCount(); ++v) {
            if (v % 4096 == 0 && progress.stopped())
                return out;
            if (s.trianglesAt.count(v) == 0 || partOfVertex[v] == p || rigid[partOfVertex[v]])
                continue;
            ++sizes[partOfVertex[v]];
            const Vec3 n = vertexNormal(s, neutral, v);
            const RayHit hit = castRay(*subject.tree, *subject.neutralBoxes, s.triangles, neutral, neutral[v],
                                       n, 1e-6f, static_cast<float>(reach), v);
            // The outer part faces away from what it covers, and nothing lies between.
            if (hit.triangle != ~0u && ownerOf[hit.triangle] == p && hit.fromBehind &&
                faceNormal(s.triangles[hit.triangle], neutral).dot(n) > 0.3f)
                byInner[partOfVertex[v]].push_back({v, hit.triangle, hit.distance});
        }
        for (std::size_t q = 0; q < parts; ++q) {
            if (byInner[q].size() < 50 || byInner[q].size() < sizes[q] / 20)
                continue;
            out.covers[p * parts + q] = 1;
            if (out.trees[p].nodes.empty())
                out.trees[p] = buildTree(s.triangles, own[p], neutral);
            out.covered.insert(out.covered.end(), byInner[q].begin(), byInner[q].end());
            out.outer.insert(out.outer.end(), byInner[q].size(), static_cast<std::uint32_t>(p));
        }
    }
    return out;
}

void cover(const Subject& s, const MotionRegion& region, const std::vector<Vec3>& posed,
           CoverScratch& scratch, Cover& out) {
    const CoverSetup& setup = *s.cover;
    out.poke.clear();
    out.gap.clear();
    scratch.boxes.resize(setup.trees.size());
    for (std::size_t p = 0; p < setup.trees.size(); ++p)
        refit(setup.trees[p], s.surface.triangles, posed, scratch.boxes[p]);
    const auto far = static_cast<float>(0.06 * s.body.height);
    for (std::size_t i = 0; i < setup.covered.size(); ++i) {
        const Covered& k = setup.covered[i];
        const Triangle& f = s.surface.triangles[k.triangle];
        if (region.numberOf[k.vertex] == MotionRegion::kNone &&
            region.numberOf[f[0]] == MotionRegion::kNone && region.numberOf[f[1]] == MotionRegion::kNone &&
            region.numberOf[f[2]] == MotionRegion::kNone)
            continue;
        // Cheaply first: over the place that lay above it.
        const Vec3 above = (posed[f[0]] + posed[f[1]] + posed[f[2]]) / 3 - posed[k.vertex];
        const float rough = above.dot(faceNormal(f, posed));
        if (rough > 0.3f * k.height && rough < k.height + 0.004f * static_cast<float>(s.body.height))
            continue;
        const Vec3 n = vertexNormal(s.surface, posed, k.vertex);
        const TriangleTree& tree = setup.trees[setup.outer[i]];
        const Boxes& boxes = scratch.boxes[setup.outer[i]];
        const RayHit up = castRay(tree, boxes, s.surface.triangles, posed, posed[k.vertex], n, 0, far);
        if (up.triangle != ~0u && up.fromBehind) {
            if (up.distance > k.height)
                out.gap.push_back({k.vertex, k.triangle, up.distance - k.height});
            continue;
        }
        // Outside by what lay above it as well as by what lies below it now: a fold can deceive either.
        if (rough >= 0)
            continue;
        const RayHit down = castRay(tree, boxes, s.surface.triangles, posed, posed[k.vertex], -n, 0, far);
        if (down.triangle != ~0u && !down.fromBehind)
            out.poke.push_back({k.vertex, k.triangle, std::min(down.distance, -rough)});
    }
}

} // namespace hobble
