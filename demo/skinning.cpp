#include "skinning.h"

#include "core/mend/heat.h"

#include <algorithm>
#include <cmath>

namespace hobble::demo {

Home nearestBone(const std::vector<Bone>& bones, const Vec3d& p) {
    Home out{bones.front().joint, INFINITY};
    for (const Bone& bone : bones) {
        const Vec3d ab = bone.b - bone.a;
        const double t = std::clamp((p - bone.a).dot(ab) / std::max(ab.squaredNorm(), 1e-12), 0.0, 1.0);
        const double d = (p - bone.a - t * ab).norm();
        if (d < out.distance)
            out = {bone.joint, d};
    }
    return out;
}

std::vector<Weights> heatWeights(const Mesh& mesh, const std::vector<Home>& home, double reach) {
    std::vector<std::uint32_t> all(mesh.position.size());
    std::vector<HeatHome> warm;
    for (std::uint32_t v = 0; v < all.size(); ++v) {
        all[v] = v;
        warm.push_back({home[v].joint, home[v].distance});
    }
    std::vector<Weights> out;
    for (const ShareRow& row : heatShares(mesh.triangles, mesh.position, all, warm, reach)) {
        Weights& weights = out.emplace_back();
        for (const Share& s : row)
            weights.push_back({s.joint, s.by});
    }
    return out;
}

double shareOf(const Weights& weights, int joint) {
    double sum = 0;
    for (const auto& [j, share] : weights)
        sum += j == joint ? share : 0;
    return sum;
}

void hand(Weights& weights, int from, int to, double share) {
    double given = 0;
    for (auto& [j, held] : weights)
        if (j == from) {
            given += held * share;
            held *= 1 - share;
        }
    if (given > 0)
        weights.push_back({to, given});
}

void shareTwist(std::vector<Weights>& weights, const Mesh& mesh, const Bone& bone,
                const std::vector<std::pair<double, int>>& along) {
    const Vec3d ab = bone.b - bone.a;
    for (std::size_t v = 0; v < weights.size(); ++v) {
        const double held = shareOf(weights[v], bone.joint);
        if (held <= 0)
            continue;
        const double t = (mesh.position[v].cast<double>() - bone.a).dot(ab) / ab.squaredNorm();
        std::erase_if(weights[v], [&](const auto& w) { return w.first == bone.joint; });
        std::size_t k = 0;
        while (k + 1 < along.size() && t > along[k + 1].first)
            ++k;
        if (t <= along.front().first || k + 1 == along.size()) {
            weights[v].push_back({along[k].second, held});
        } else {
            const double s = (t - along[k].first) / (along[k + 1].first - along[k].first);
            weights[v].push_back({along[k].second, held * (1 - s)});
            weights[v].push_back({along[k + 1].second, held * s});
        }
    }
}

void shareHelper(std::vector<Weights>& weights, const Skeleton& skeleton, int joint, int helper) {
    auto below = skeleton.subtree(joint);
    for (Weights& w : weights) {
        double c = 0;
        for (const auto& [j, share] : w)
            c += below[j] ? share : 0;
        if (c <= 1e-6 || c >= 1 - 1e-6)
            continue;
        for (auto& [j, share] : w)
            share *= below[j] ? c : 1 - c;
        w.push_back({helper, 2 * c * (1 - c)});
    }
}

void shareSpot(std::vector<Weights>& weights, const Mesh& mesh, int to, const Vec3d& centre,
               const Vec3d& radius, double most, const std::function<double(const Vec3d&)>& where) {
    for (std::size_t v = 0; v < weights.size(); ++v) {
        const Vec3d p = mesh.position[v].cast<double>();
        const double d = (p - centre).cwiseQuotient(radius).norm();
        if (d >= 1)
            continue;
        const double fall = (1 - d * d) * (1 - d * d), share = most * fall * (where ? where(p) : 1.0);
        for (auto& [j, held] : weights[v])
            held *= 1 - share;
        weights[v].push_back({to, share});
    }
}

std::vector<Weights> carriedWeights(const Mesh& mesh, const std::vector<Vec3>& below,
                                    const std::vector<Weights>& weights, int smoothing) {
    std::vector<std::map<int, double>> rows(mesh.position.size());
    for (std::size_t v = 0; v < rows.size(); ++v) {
        std::size_t nearest = 0;
        for (std::size_t b = 1; b < below.size(); ++b)
            if ((below[b] - mesh.position[v]).squaredNorm() <
                (below[nearest] - mesh.position[v]).squaredNorm())
                nearest = b;
        for (const auto& [j, share] : weights[nearest])
            rows[v][j] += share;
    }
    std::vector<std::set<std::uint32_t>> around(rows.size());
    for (const Triangle& t : mesh.triangles)
        for (int k = 0; k < 3; ++k) {
            around[t[k]].insert(t[(k + 1) % 3]);
            around[t[(k + 1) % 3]].insert(t[k]);
        }
    for (int pass = 0; pass < smoothing; ++pass) {
        auto next = rows;
        for (std::size_t v = 0; v < rows.size(); ++v) {
            for (auto& [j, share] : next[v])
                share *= 0.5;
            for (std::uint32_t o : around[v])
                for (const auto& [j, share] : rows[o])
                    next[v][j] += 0.5 * share / double(around[v].size());
        }
        rows = std::move(next);
    }
    std::vector<Weights> out;
    for (const auto& row : rows)
        out.emplace_back(row.begin(), row.end());
    return out;
}

} // namespace hobble::demo
