#include "core/measure/weight_islands.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace hobble {

namespace {

float weightOn(const SkinWeights& w, std::uint32_t v, int joint) {
    float sum = 0;
    for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i)
        if (w.joint[i] == joint)
            sum += w.weight[i];
    return sum;
}

double toBone(const Character& c, int joint, const Vec3d& p) {
    const Vec3d a = c.skeleton.neutralWorld[joint].translation();
    double best = (p - a).norm();
    for (int k = joint + 1; k < c.skeleton.size(); ++k)
        if (c.skeleton.parent[k] == joint) {
            const Vec3d ab = c.skeleton.neutralWorld[k].translation() - a;
            const double t = std::clamp((p - a).dot(ab) / std::max(ab.squaredNorm(), 1e-18), 0.0, 1.0);
            best = std::min(best, (p - a - t * ab).norm());
        }
    return best;
}

// All a joint holds may be a mistake: skin several times nearer to the bone of another that holds it too, and
// that is more than a bone away.
bool strange(const Character& c, const Surface& f, const std::vector<Vec3>& neutral, int joint,
             const std::vector<std::uint32_t>& vertices) {
    double own = 0, other = 0;
    for (std::uint32_t v : vertices) {
        const Vec3d p = neutral[v].cast<double>();
        double nearest = INFINITY;
        for (std::uint32_t i = f.weights.first[v]; i < f.weights.first[v + 1]; ++i)
            if (const int j = f.weights.joint[i]; j != joint && f.weights.weight[i] > 0.2f) {
                const int bones = c.skeleton.boneDistance(j, joint);
                if (bones < 0 || bones > 1)
                    nearest = std::min(nearest, toBone(c, j, p));
            }
        if (nearest == INFINITY)
            return false;
        own += toBone(c, joint, p);
        other += nearest;
    }
    return own > 4 * other;
}

} // namespace

std::vector<WeightIsland> weightIslands(const Character& c, const Surface& f,
                                        const std::vector<Vec3>& neutral) {
    constexpr float least = 0.03f;
    std::map<int, std::vector<std::uint32_t>> held;
    for (std::uint32_t v = 0; v < f.vertexCount(); ++v)
        for (std::uint32_t i = f.weights.first[v]; i < f.weights.first[v + 1]; ++i)
            if (f.weights.weight[i] > least)
                held[f.weights.joint[i]].push_back(v);
    std::vector<WeightIsland> out;
    std::vector<int> piece(f.vertexCount(), -1);
    std::vector<std::uint32_t> stack;
    for (const auto& [joint, vertices] : held) {
        struct Piece {
            std::vector<std::uint32_t> vertices;
            double sum = 0, nearest = INFINITY;
        };
        std::map<std::uint32_t, std::vector<Piece>> byShell;
        for (std::uint32_t v : vertices)
            piece[v] = -2;
        for (std::uint32_t start : vertices) {
            if (piece[start] != -2)
                continue;
            Piece p;
            piece[start] = 0;
            stack.push_back(start);
            while (!stack.empty()) {
                const std::uint32_t v = stack.back();
                stack.pop_back();
                p.vertices.push_back(v);
                p.sum += weightOn(f.weights, v, joint);
                p.nearest = std::min(
                    p.nearest,
                    (neutral[v].cast<double>() - c.skeleton.neutralWorld[joint].translation()).norm());
                for (auto n = f.neighbours.begin(v); n != f.neighbours.end(v); ++n)
                    if (piece[*n] == -2) {
                        piece[*n] = 0;
                        stack.push_back(*n);
                    }
            }
            byShell[f.shellOf[start]].push_back(std::move(p));
        }
        for (std::uint32_t v : vertices)
            piece[v] = -1;
        // How far the joint's main skin reaches, over all shells.
        double reach = 0, most = 0;
        for (const auto& [shell, pieces] : byShell)
            for (const Piece& p : pieces)
                if (p.sum > most) {
                    most = p.sum;
                    reach = 0;
                    for (std::uint32_t v : p.vertices)
                        reach = std::max(
                            reach, (neutral[v].cast<double>() - c.skeleton.neutralWorld[joint].translation())
                                       .norm());
                }
        for (auto& [shell, pieces] : byShell) {
            const auto main = std::max_element(pieces.begin(), pieces.end(),
                                               [](const Piece& a, const Piece& b) { return a.sum < b.sum; });
            for (Piece& p : pieces) {
                const bool far = p.nearest > reach || strange(c, f, neutral, joint, p.vertices);
                if ((&p == &*main && !far) || p.sum < 0.1)
                    continue;
                std::sort(p.vertices.begin(), p.vertices.end());
                out.push_back({joint, std::move(p.vertices), p.sum, far});
                out.back().share = p.sum / static_cast<double>(out.back().vertices.size());
            }
        }
    }
    return out;
}

} // namespace hobble
