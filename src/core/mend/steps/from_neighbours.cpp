// A patch takes what the skin around it says: each joint's share solves Laplace's equation over the patch,
// the rim held. Weights of the equation are the inverse lengths of edges: above 0, so that shares stay
// between those of the rim (the discrete maximum principle; Wardetzky et al. 2007, "Discrete Laplace
// operators: no free lunch") and still sum to 1.
#include "core/mend/step.h"
#include "core/words/say.h"

#include <Eigen/SparseCholesky>

#include <map>

namespace hobble {

Result<Done> fromNeighbours(const Step&, const StepContext& c, Shares& shares) {
    const Surface& surface = c.subject.surface;
    std::map<std::uint32_t, Eigen::Index> inside;
    for (const Amount& a : c.where)
        inside.emplace(a.vertex, static_cast<Eigen::Index>(inside.size()));
    std::map<std::uint16_t, Eigen::Index> joints;
    std::vector<std::tuple<Eigen::Index, std::uint16_t, double>> rim;
    std::vector<Eigen::Triplet<double>> entries;
    std::vector<char> held(inside.size(), 0);
    std::vector<Eigen::Index> piece(inside.size()); // of the patch: union of those joined by an edge
    for (std::size_t i = 0; i < piece.size(); ++i)
        piece[i] = static_cast<Eigen::Index>(i);
    const auto root = [&](Eigen::Index i) {
        while (piece[static_cast<std::size_t>(i)] != i)
            i = piece[static_cast<std::size_t>(i)] =
                piece[static_cast<std::size_t>(piece[static_cast<std::size_t>(i)])];
        return i;
    };
    for (const auto& [v, i] : inside) {
        double sum = 0;
        for (const std::uint32_t* n = surface.neighbours.begin(v); n != surface.neighbours.end(v); ++n) {
            const double w =
                1 / std::max<double>((c.subject.neutral[*n] - c.subject.neutral[v]).norm(), 1e-9);
            if (const auto other = inside.find(*n); other != inside.end()) {
                entries.emplace_back(i, other->second, -w);
                piece[static_cast<std::size_t>(root(i))] = root(other->second);
                sum += w;
                continue;
            }
            const ShareRow row = shares.at(*n);
            if (row.empty())
                continue; // moved by nothing: it says nothing
            sum += w;
            held[static_cast<std::size_t>(i)] = 1;
            for (const Share& s : row) {
                joints.emplace(s.joint, static_cast<Eigen::Index>(joints.size()));
                rim.emplace_back(i, s.joint, w * s.by);
            }
        }
        entries.emplace_back(i, i, sum);
    }
    if (inside.empty())
        return Done{};
    std::vector<char> pieceHeld(inside.size(), 0);
    for (std::size_t i = 0; i < held.size(); ++i)
        if (held[i])
            pieceHeld[static_cast<std::size_t>(root(static_cast<Eigen::Index>(i)))] = 1;
    for (std::size_t i = 0; i < held.size(); ++i)
        if (!pieceHeld[static_cast<std::size_t>(root(static_cast<Eigen::Index>(i)))])
            return Error{say("nothing around it says anything: what is marked is a whole piece of skin")};
    const auto n = static_cast<Eigen::Index>(inside.size());
    Eigen::SparseMatrix<double> laplace(n, n);
    laplace.setFromTriplets(entries.begin(), entries.end());
    Eigen::MatrixXd said = Eigen::MatrixXd::Zero(n, static_cast<Eigen::Index>(joints.size()));
    for (const auto& [i, joint, by] : rim)
        said(i, joints.at(joint)) += by;
    const Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> solver(laplace);
    if (solver.info() != Eigen::Success)
        return Error{say("the neighbours do not decide what is marked")};
    const Eigen::MatrixXd found = solver.solve(said);
    for (const Amount& a : c.where) {
        ShareRow row;
        for (const auto& [joint, column] : joints)
            row.push_back({joint, found(inside.at(a.vertex), column)});
        shares.want(a.vertex, mixed(shares.at(a.vertex), tidied(std::move(row)), a.by));
    }
    return Done{};
}

} // namespace hobble
