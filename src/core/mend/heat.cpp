#include "core/mend/heat.h"

#include <Eigen/SparseCholesky>

#include <algorithm>
#include <map>

namespace hobble {

std::vector<ShareRow> heatShares(std::span<const Triangle> triangles, std::span<const Vec3> position,
                                 const std::vector<std::uint32_t>& where, const std::vector<HeatHome>& home,
                                 double reach) {
    const auto n = static_cast<Eigen::Index>(where.size());
    std::vector<Eigen::Index> at(position.size(), -1);
    for (Eigen::Index i = 0; i < n; ++i)
        at[where[static_cast<std::size_t>(i)]] = i;
    std::vector<Eigen::Triplet<double>> entries;
    std::vector<double> mass(where.size(), 0);
    for (const Triangle& t : triangles) {
        if (at[t[0]] < 0 || at[t[1]] < 0 || at[t[2]] < 0)
            continue;
        for (std::size_t k = 0; k < 3; ++k) {
            const std::uint32_t i = t[k], j = t[(k + 1) % 3], o = t[(k + 2) % 3];
            const Vec3d a = (position[i] - position[o]).cast<double>(),
                        b = (position[j] - position[o]).cast<double>();
            const double area2 = a.cross(b).norm();
            // An obtuse corner's cotangent is negative; kept out, so that no share can overshoot.
            const double w = 0.5 * std::max(a.dot(b) / std::max(area2, 1e-14), 0.02);
            entries.emplace_back(at[i], at[j], -w);
            entries.emplace_back(at[j], at[i], -w);
            entries.emplace_back(at[i], at[i], w);
            entries.emplace_back(at[j], at[j], w);
            mass[static_cast<std::size_t>(at[i])] += area2 / 6;
        }
    }
    // a vertex of no triangle of its own is its bone's alone
    std::map<int, Eigen::VectorXd> source;
    for (Eigen::Index v = 0; v < n; ++v) {
        const auto k = static_cast<std::size_t>(v);
        const double d = std::max(reach * home[k].distance, 1e-4), heat = std::max(mass[k], 1e-12) / (d * d);
        entries.emplace_back(v, v, heat + 1e-12);
        source.try_emplace(home[k].joint, Eigen::VectorXd::Zero(n)).first->second[v] = heat;
    }
    Eigen::SparseMatrix<double> equation(n, n);
    equation.setFromTriplets(entries.begin(), entries.end());
    const Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> solver(equation);
    std::vector<ShareRow> out(where.size());
    for (const auto& [joint, heat] : source) {
        const Eigen::VectorXd share = solver.solve(heat);
        for (Eigen::Index v = 0; v < n; ++v)
            if (share[v] > 1e-3)
                out[static_cast<std::size_t>(v)].push_back({static_cast<std::uint16_t>(joint), share[v]});
    }
    for (ShareRow& row : out)
        row = tidied(std::move(row));
    return out;
}

} // namespace hobble
