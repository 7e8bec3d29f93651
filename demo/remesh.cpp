#include "remesh.h"

#include <map>
#include <meshoptimizer.h>

namespace hobble::demo {

namespace {

// What a part becomes: vertices as blends of its old ones, by number within the character, and triangles over
// them.
struct NewPart {
    std::vector<std::vector<std::pair<std::uint32_t, float>>> vertices;
    std::vector<Triangle> triangles;
};

Character rebuilt(const Character& c, const std::vector<NewPart>& parts) {
    Character out = c;
    out.parts.clear();
    out.bindPosition.clear();
    out.neutral.clear();
    out.colour.clear();
    out.triangles.clear();
    out.weights = {};
    for (std::size_t p = 0; p < parts.size(); ++p) {
        Part part = c.parts[p];
        part.firstVertex = static_cast<std::uint32_t>(out.neutral.size());
        part.firstTriangle = static_cast<std::uint32_t>(out.triangles.size());
        part.vertexCount = static_cast<std::uint32_t>(parts[p].vertices.size());
        part.triangleCount = static_cast<std::uint32_t>(parts[p].triangles.size());
        for (const auto& blend : parts[p].vertices) {
            Vec3 bind = Vec3::Zero(), neutral = Vec3::Zero(), colour = Vec3::Zero();
            std::map<std::uint16_t, float> held;
            float sum = 0;
            for (const auto& [v, share] : blend) {
                bind += share * c.bindPosition[v];
                neutral += share * c.neutral[v];
                if (!c.colour.empty())
                    colour += share * c.colour[v];
                if (!c.weights.fileSum.empty())
                    sum += share * c.weights.fileSum[v];
                for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
                    held[c.weights.joint[i]] += share * c.weights.weight[i];
            }
            out.bindPosition.push_back(bind);
            out.neutral.push_back(neutral);
            if (!c.colour.empty())
                out.colour.push_back(colour);
            std::vector<std::pair<std::uint16_t, float>> list(held.begin(), held.end());
            std::stable_sort(list.begin(), list.end(),
                             [](const auto& a, const auto& b) { return a.second > b.second; });
            for (const auto& [joint, share] : list) {
                out.weights.joint.push_back(joint);
                out.weights.weight.push_back(share);
            }
            out.weights.first.push_back(static_cast<std::uint32_t>(out.weights.joint.size()));
            if (!c.weights.fileSum.empty())
                out.weights.fileSum.push_back(sum);
        }
        for (Triangle t : parts[p].triangles) {
            for (std::uint32_t& v : t)
                v += part.firstVertex;
            out.triangles.push_back(t);
        }
        for (ShapeTarget& target : part.targets) {
            std::map<std::uint32_t, Vec3> moved; // by number within the old part
            for (std::size_t i = 0; i < target.vertex.size(); ++i)
                moved[target.vertex[i]] = target.delta[i];
            target.vertex.clear();
            target.delta.clear();
            for (std::uint32_t n = 0; n < parts[p].vertices.size(); ++n) {
                Vec3 delta = Vec3::Zero();
                for (const auto& [v, share] : parts[p].vertices[n])
                    if (const auto at = moved.find(v - c.parts[p].firstVertex); at != moved.end())
                        delta += share * at->second;
                if (delta != Vec3::Zero()) {
                    target.vertex.push_back(n);
                    target.delta.push_back(delta);
                }
            }
        }
        out.parts.push_back(std::move(part));
    }
    out.hash.clear(); // it is the content of no file
    return out;
}

} // namespace

Character subdivided(const Character& c) {
    std::vector<NewPart> parts(c.parts.size());
    for (std::size_t p = 0; p < parts.size(); ++p) {
        const Part& old = c.parts[p];
        NewPart& now = parts[p];
        for (std::uint32_t v = 0; v < old.vertexCount; ++v)
            now.vertices.push_back({{old.firstVertex + v, 1.f}});
        std::map<std::pair<std::uint32_t, std::uint32_t>, std::uint32_t> middles;
        const auto middle = [&](std::uint32_t a, std::uint32_t b) {
            const auto [at, first] =
                middles.emplace(std::minmax(a, b), static_cast<std::uint32_t>(now.vertices.size()));
            if (first)
                now.vertices.push_back({{old.firstVertex + a, 0.5f}, {old.firstVertex + b, 0.5f}});
            return at->second;
        };
        for (std::uint32_t t = 0; t < old.triangleCount; ++t) {
            Triangle f = c.triangles[old.firstTriangle + t];
            for (std::uint32_t& v : f)
                v -= old.firstVertex;
            const std::uint32_t ab = middle(f[0], f[1]), bc = middle(f[1], f[2]), ca = middle(f[2], f[0]);
            now.triangles.insert(now.triangles.end(),
                                 {{f[0], ab, ca}, {ab, f[1], bc}, {ca, bc, f[2]}, {ab, bc, ca}});
        }
    }
    return rebuilt(c, parts);
}

Character decimated(const Character& c, double share) {
    std::vector<NewPart> parts(c.parts.size());
    for (std::size_t p = 0; p < parts.size(); ++p) {
        const Part& old = c.parts[p];
        std::vector<unsigned int> indices, kept;
        for (std::uint32_t t = 0; t < old.triangleCount; ++t)
            for (std::uint32_t v : c.triangles[old.firstTriangle + t])
                indices.push_back(v - old.firstVertex);
        kept.resize(indices.size());
        if (old.vertexCount > 0)
            kept.resize(meshopt_simplify(
                kept.data(), indices.data(), indices.size(), c.neutral[old.firstVertex].data(),
                old.vertexCount, sizeof(Vec3),
                static_cast<std::size_t>(share * static_cast<double>(indices.size())) / 3 * 3, 1.f, 0,
                nullptr));
        std::map<unsigned int, std::uint32_t> number;
        for (std::size_t i = 0; i + 2 < kept.size(); i += 3) {
            Triangle t;
            for (std::size_t k = 0; k < 3; ++k) {
                const auto [at, first] =
                    number.emplace(kept[i + k], static_cast<std::uint32_t>(parts[p].vertices.size()));
                if (first)
                    parts[p].vertices.push_back({{old.firstVertex + kept[i + k], 1.f}});
                t[k] = at->second;
            }
            parts[p].triangles.push_back(t);
        }
    }
    return rebuilt(c, parts);
}

Character without(const Character& c, const std::string& name) {
    Character out = c;
    std::vector<NewPart> parts(c.parts.size());
    for (std::size_t p = 0; p < parts.size(); ++p) {
        const Part& old = c.parts[p];
        for (std::uint32_t v = 0; v < old.vertexCount; ++v)
            parts[p].vertices.push_back({{old.firstVertex + v, 1.f}});
        for (std::uint32_t t = 0; t < old.triangleCount; ++t) {
            Triangle f = c.triangles[old.firstTriangle + t];
            for (std::uint32_t& v : f)
                v -= old.firstVertex;
            parts[p].triangles.push_back(f);
        }
    }
    out.parts.clear();
    std::vector<NewPart> left;
    for (std::size_t p = 0; p < parts.size(); ++p)
        if (c.parts[p].name != name) {
            out.parts.push_back(c.parts[p]);
            left.push_back(std::move(parts[p]));
        }
    // The blends name vertices of `c`, and so do the parts' first vertices; both are still there.
    return rebuilt(out, left);
}

} // namespace hobble::demo
