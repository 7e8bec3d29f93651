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

} // namespace

std::vector<WeightIsland> weightIslands(const Character& c, const Surface& f, const std::vector<Vec3>& neutral) {
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
                p.nearest = std::min(p.nearest, (neutral[v].cast<double>() - c.skeleton.neutralWorld[joint].translation()).norm());
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
                        reach = std::max(reach, (neutral[v].cast<double>() - c.skeleton.neutralWorld[joint].translation()).norm());
                }
        for (auto& [shell, pieces] : byShell) {
            const auto main = std::max_element(pieces.begin(), pieces.end(), [](const Piece& a, const Piece& b) { return a.sum < b.sum; });
            for (Piece& p : pieces) {
                const bool far = p.nearest > reach;
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
