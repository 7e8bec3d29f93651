#include "core/measure/weight_islands.h"

#include <tbb/enumerable_thread_specific.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <iterator>
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

// From each joint to those below it.
class Bones {
public:
    explicit Bones(const Skeleton& skeleton) : skeleton_(skeleton), children_(skeleton.children()) {}

    double distance(int joint, const Vec3d& p) const {
        const Vec3d a = place(joint);
        double best = (p - a).norm();
        for (int k : children_[static_cast<std::size_t>(joint)]) {
            const Vec3d ab = place(k) - a;
            const double t = std::clamp((p - a).dot(ab) / std::max(ab.squaredNorm(), 1e-18), 0.0, 1.0);
            best = std::min(best, (p - a - t * ab).norm());
        }
        return best;
    }

    /// Per joint, whether it is more than a bone away from another, or of another tree.
    std::vector<char> awayFrom(int joint) const {
        std::vector<char> out(children_.size());
        for (int j = 0; j < skeleton_.size(); ++j) {
            const int bones = skeleton_.boneDistance(j, joint);
            out[static_cast<std::size_t>(j)] = bones < 0 || bones > 1;
        }
        return out;
    }

    bool hangs(int joint, int from) const {
        while (joint >= 0 && joint != from)
            joint = skeleton_.parent[static_cast<std::size_t>(joint)];
        return joint == from;
    }

private:
    const Skeleton& skeleton_;
    std::vector<std::vector<int>> children_;

    Vec3d place(int joint) const { return skeleton_.neutralWorld[joint].translation(); }
};

// All a joint holds may be a mistake: skin several times nearer to the bone of another that holds it too, and
// that is more than a bone away; or skin far down a limb that is left on what the limb hangs from.
bool strange(const Bones& bones, const std::vector<char>& away, const Surface& f,
             const std::vector<Vec3>& neutral, int joint, const std::vector<std::uint32_t>& vertices) {
    double own = 0, other = 0;
    std::size_t shared = 0, below = 0, alone = 0;
    for (std::uint32_t v : vertices) {
        const Vec3d p = neutral[v].cast<double>();
        double nearest = INFINITY;
        for (std::uint32_t i = f.weights.first[v]; i < f.weights.first[v + 1]; ++i)
            if (const int j = f.weights.joint[i]; j != joint && f.weights.weight[i] > 0.02f) {
                if (!away[static_cast<std::size_t>(j)])
                    return false; // it is at home there
                nearest = std::min(nearest, bones.distance(j, p));
                below += bones.hangs(j, joint);
                ++shared;
            }
        if (nearest == INFINITY) {
            ++alone;
            continue;
        }
        own += bones.distance(joint, p);
        other += nearest;
    }
    if (alone > 0) // held by it alone: who holds the skin around says whose it is
        for (std::uint32_t v : vertices)
            for (auto n = f.neighbours.begin(v); n != f.neighbours.end(v); ++n)
                if (f.weights.first[*n] < f.weights.first[*n + 1] && weightOn(f.weights, *n, joint) <= 0) {
                    const int j = f.weights.joint[f.weights.first[*n]];
                    if (!away[static_cast<std::size_t>(j)])
                        return false;
                    below += bones.hangs(j, joint);
                    ++shared;
                }
    return shared > 0 && ((alone == 0 && own > 4 * other) || below == shared);
}

// Of what one joint holds. `waiting`, per welded vertex, comes and goes with nothing flagged.
std::vector<WeightIsland> islandsOf(const Character& c, const Bones& bones, const Surface& f,
                                    const std::vector<Vec3>& neutral, int joint,
                                    const std::vector<std::uint32_t>& vertices, std::vector<char>& waiting) {
    struct Piece {
        std::vector<std::uint32_t> vertices;
        double sum = 0, nearest = INFINITY;
    };
    std::map<std::uint32_t, std::vector<Piece>> byShell;
    const Vec3d here = c.skeleton.neutralWorld[joint].translation();
    const std::vector<char> apart = bones.awayFrom(joint);
    const auto away = [&](std::uint32_t v) { return (neutral[v].cast<double>() - here).norm(); };
    std::vector<std::uint32_t> stack;
    for (std::uint32_t v : vertices)
        waiting[v] = 1;
    for (std::uint32_t start : vertices) {
        if (!waiting[start])
            continue;
        Piece p;
        waiting[start] = 0;
        stack.push_back(start);
        while (!stack.empty()) {
            const std::uint32_t v = stack.back();
            stack.pop_back();
            p.vertices.push_back(v);
            p.sum += weightOn(f.weights, v, joint);
            p.nearest = std::min(p.nearest, away(v));
            for (auto n = f.neighbours.begin(v); n != f.neighbours.end(v); ++n)
                if (waiting[*n]) {
                    waiting[*n] = 0;
                    stack.push_back(*n);
                }
        }
        byShell[f.shellOf[start]].push_back(std::move(p));
    }
    // How far the joint's main skin reaches, over all shells.
    double reach = 0, most = 0;
    for (const auto& [shell, pieces] : byShell)
        for (const Piece& p : pieces)
            if (p.sum > most) {
                most = p.sum;
                reach = 0;
                for (std::uint32_t v : p.vertices)
                    reach = std::max(reach, away(v));
            }
    std::vector<WeightIsland> out;
    for (auto& [shell, pieces] : byShell) {
        const auto main = std::max_element(pieces.begin(), pieces.end(),
                                           [](const Piece& a, const Piece& b) { return a.sum < b.sum; });
        for (Piece& p : pieces) {
            const bool far = p.nearest > reach || strange(bones, apart, f, neutral, joint, p.vertices);
            if ((&p == &*main && !far) || p.sum < 0.1)
                continue;
            std::sort(p.vertices.begin(), p.vertices.end());
            out.push_back({joint, std::move(p.vertices), p.sum, far});
            out.back().share = p.sum / static_cast<double>(out.back().vertices.size());
        }
    }
    return out;
}

} // namespace

std::vector<WeightIsland> weightIslands(const Character& c, const Surface& f,
                                        const std::vector<Vec3>& neutral, const std::vector<char>& joints) {
    constexpr float least = 0.03f;
    std::vector<std::vector<std::uint32_t>> held(joints.size());
    for (std::uint32_t v = 0; v < f.vertexCount(); ++v)
        for (std::uint32_t i = f.weights.first[v]; i < f.weights.first[v + 1]; ++i)
            if (const std::uint16_t j = f.weights.joint[i];
                joints[j] && f.weights.weight[i] > least && (held[j].empty() || held[j].back() != v))
                held[j].push_back(v);
    std::vector<std::vector<WeightIsland>> found(joints.size());
    const Bones bones(c.skeleton);
    tbb::enumerable_thread_specific<std::vector<char>> waiting(
        [&] { return std::vector<char>(f.vertexCount(), 0); });
    tbb::parallel_for(std::size_t(0), joints.size(), [&](std::size_t j) {
        if (!held[j].empty())
            found[j] = islandsOf(c, bones, f, neutral, static_cast<int>(j), held[j], waiting.local());
    });
    std::vector<WeightIsland> out;
    for (auto& of : found)
        std::move(of.begin(), of.end(), std::back_inserter(out));
    return out;
}

} // namespace hobble
