#include "picture/stand_in.h"

#include <meshoptimizer.h>

#include <algorithm>

namespace hobble {

std::vector<Triangle> standIn(const Character& c, std::size_t most) {
    std::vector<Triangle> out;
    const double share =
        static_cast<double>(most) / static_cast<double>(std::max<std::size_t>(c.triangles.size(), 1));
    if (share >= 1)
        return c.triangles.vector();
    for (const Part& part : c.parts) {
        if (part.triangleCount == 0)
            continue;
        std::vector<unsigned int> corners, kept;
        corners.reserve(3 * part.triangleCount);
        for (std::uint32_t t = part.firstTriangle; t < part.firstTriangle + part.triangleCount; ++t)
            for (std::uint32_t v : c.triangles[t])
                corners.push_back(v - part.firstVertex);
        kept.resize(corners.size());
        const auto wanted = static_cast<std::size_t>(share * part.triangleCount) * 3;
        constexpr float anyError = 1; // of its extent: the number of triangles is what counts
        kept.resize(meshopt_simplify(kept.data(), corners.data(), corners.size(),
                                     c.neutral[part.firstVertex].data(), part.vertexCount, sizeof(Vec3),
                                     wanted, anyError, 0, nullptr));
        for (std::size_t i = 0; i + 2 < kept.size(); i += 3)
            out.push_back(
                {part.firstVertex + kept[i], part.firstVertex + kept[i + 1], part.firstVertex + kept[i + 2]});
    }
    return out;
}

StandIn standInOf(const Subject& whole, std::size_t most) {
    const Character& c = *whole.character;
    StandIn out;
    out.triangles = standIn(c, most);
    constexpr std::uint32_t gone = ~0u;
    std::vector<std::uint32_t> own(c.vertexCount(), gone);
    for (const Triangle& t : out.triangles)
        for (std::uint32_t v : t)
            own[v] = 0;
    for (std::uint32_t v = 0; v < own.size(); ++v)
        if (own[v] != gone) {
            own[v] = static_cast<std::uint32_t>(out.fileVertex.size());
            out.fileVertex.push_back(v);
        }
    const auto taken = [&](const auto& from) {
        std::decay_t<decltype(from.vector())> of;
        if (!from.empty())
            for (std::uint32_t v : out.fileVertex)
                of.push_back(from[v]);
        return of;
    };
    auto coarse = std::make_shared<Character>();
    coarse->name = c.name;
    coarse->skeleton = c.skeleton;
    coarse->skins = c.skins;
    coarse->drivers = c.drivers;
    coarse->bindPosition = taken(c.bindPosition);
    coarse->neutral = taken(c.neutral);
    coarse->colour = taken(c.colour);
    coarse->extras.dualShare = taken(c.extras.dualShare);
    std::vector<Triangle> triangles;
    for (const Triangle& t : out.triangles)
        triangles.push_back({own[t[0]], own[t[1]], own[t[2]]});
    coarse->triangles = std::move(triangles);
    SkinWeights weights;
    for (std::uint32_t v : out.fileVertex) {
        for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i) {
            weights.joint.push_back(c.weights.joint[i]);
            weights.weight.push_back(c.weights.weight[i]);
        }
        weights.first.push_back(static_cast<std::uint32_t>(weights.joint.size()));
    }
    weights.fileSum = taken(c.weights.fileSum);
    coarse->weights = std::move(weights);
    std::vector<Part> parts;
    std::size_t triangle = 0;
    for (const Part& part : c.parts) {
        const auto end = part.firstVertex + part.vertexCount;
        const auto placeOf = [&](std::uint32_t v) {
            return static_cast<std::uint32_t>(
                std::lower_bound(out.fileVertex.begin(), out.fileVertex.end(), v) - out.fileVertex.begin());
        };
        Part p = part;
        p.firstVertex = placeOf(part.firstVertex);
        p.vertexCount = placeOf(end) - p.firstVertex;
        p.firstTriangle = static_cast<std::uint32_t>(triangle);
        while (triangle < out.triangles.size() && out.triangles[triangle][0] >= part.firstVertex &&
               out.triangles[triangle][0] < end)
            ++triangle;
        p.triangleCount = static_cast<std::uint32_t>(triangle) - p.firstTriangle;
        for (ShapeTarget& target : p.targets) {
            ShapeTarget kept{target.name, {}, {}};
            for (std::size_t i = 0; i < target.vertex.size(); ++i)
                if (const std::uint32_t v = own[part.firstVertex + target.vertex[i]]; v != gone) {
                    kept.vertex.push_back(v - p.firstVertex);
                    kept.delta.push_back(target.delta[i]);
                }
            target = std::move(kept);
        }
        parts.push_back(std::move(p));
    }
    coarse->parts = std::move(parts);
    auto subject = std::make_shared<Subject>();
    subject->character = coarse;
    subject->roles = whole.roles;
    subject->body = whole.body;
    subject->mirror = whole.mirror;
    subject->surface = buildSurface(*coarse);
    subject->neutral = weldedPositions(subject->surface, coarse->neutral);
    subject->rest = restTriangles(subject->surface, subject->neutral);
    subject->lanes = weightLanes(coarse->weights);
    out.subject = std::move(subject);
    return out;
}

} // namespace hobble
