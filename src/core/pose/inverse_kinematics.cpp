#include "core/pose/inverse_kinematics.h"

#include <Eigen/Dense>

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

bool isHinge(Role role) { return role == Role::Elbow || role == Role::Knee; }

class Solver {
public:
    Solver(const Character& c, const std::vector<JointRole>& roles, const std::vector<JointRange>& ranges,
           const std::vector<Pin>& pins, const ReachSettings& settings)
        : c_(c), roles_(roles), ranges_(ranges), pins_(pins), settings_(settings) {
        const auto parent = [&](int j) { return c.skeleton.parent[static_cast<std::size_t>(j)]; };
        for (int j = 0; j < c.skeleton.size(); ++j) {
            if (settings.willing[static_cast<std::size_t>(j)] <= 0)
                continue;
            std::vector<char> moves;
            bool any = false;
            for (const Pin& p : pins) {
                bool above = false;
                for (int a = parent(p.joint); a >= 0; a = parent(a))
                    above |= a == j;
                moves.push_back(above);
                any |= above;
            }
            if (any) {
                joints_.push_back(j);
                moves_.push_back(std::move(moves));
            }
        }
        size_ = settings.height > 0 ? settings.height : std::max(c.extent(), 1e-6);
    }

    Reach solve(const Pose& from) {
        Reach best;
        best.pose = from;
        const auto world = worldTransforms(c_.skeleton, from);
        std::vector<Quat> kept;
        for (const Pin& p : pins_)
            kept.push_back(rotationOf(world[static_cast<std::size_t>(p.joint)]));
        Pose pose = from;
        bend(pose);
        best.farthest = missed(worldTransforms(c_.skeleton, from));
        const double enough = settings_.within * size_;
        // A limb that was bent is farther off at first; it is followed for a few steps before it is given up.
        constexpr int kFollowed = 4;
        int idle = 0, follow = kFollowed;
        double damping = 0.02;
        for (int step = 1; step <= settings_.steps && best.farthest > enough && idle < 25 && !joints_.empty();
             ++step) {
            turn(pose, damping);
            const double now = missed(worldTransforms(c_.skeleton, pose));
            best.steps = step;
            if (now < best.farthest - 1e-9 * size_) {
                idle = now > 0.995 * best.farthest ? idle + 1 : 0;
                best.farthest = now;
                best.pose = pose;
                damping = std::max(damping * 0.7, 1e-3);
            } else if (follow > 0) {
                --follow;
            } else { // too bold: go on from the best, more carefully
                ++idle;
                pose = best.pose;
                if (idle == 1) {
                    bend(pose);
                    follow = kFollowed;
                }
                damping = std::min(damping * 2, 0.5);
            }
        }
        best.reached = best.farthest <= enough;
        for (std::size_t i = 0; i < pins_.size(); ++i)
            if (pins_[i].keepTurn)
                keepTurn(best.pose, pins_[i].joint, kept[i]);
        for (int j : joints_)
            if (shareOf(ranges_[static_cast<std::size_t>(j)], best.pose.turn[static_cast<std::size_t>(j)]) >
                0.995)
                best.atLimit.push_back(j);
        return best;
    }

private:
    const Character& c_;
    const std::vector<JointRole>& roles_;
    const std::vector<JointRange>& ranges_;
    const std::vector<Pin>& pins_;
    const ReachSettings& settings_;
    std::vector<int> joints_;              // that may turn and move a pin
    std::vector<std::vector<char>> moves_; // per such joint, per pin
    double size_ = 1;

    double missed(const std::vector<Transform>& world) const {
        double most = 0;
        for (const Pin& p : pins_)
            most = std::max(most, (world[static_cast<std::size_t>(p.joint)].translation() - p.place).norm());
        return most;
    }

    // A straight hinge does not know which way to go: it is bent a little the way it bends.
    void bend(Pose& pose) const {
        for (int j : joints_) {
            const JointRange& r = ranges_[static_cast<std::size_t>(j)];
            if (!isHinge(roles_[static_cast<std::size_t>(j)].role) || !r.known)
                continue;
            Quat& turn = pose.turn[static_cast<std::size_t>(j)];
            Vec3d a = anglesIn(r, turn);
            const double way = r.mostMotion[0] >= 0 ? 1 : -1;
            if (std::abs(a[0]) < 8) {
                a[0] = 8 * way;
                turn = turnOf(r, a);
            }
        }
    }

    void turn(Pose& pose, double damping) const {
        const auto world = worldTransforms(c_.skeleton, pose);
        const auto rows = static_cast<Eigen::Index>(3 * pins_.size()),
                   columns = static_cast<Eigen::Index>(3 * joints_.size());
        Eigen::MatrixXd jacobian = Eigen::MatrixXd::Zero(rows, columns);
        Eigen::VectorXd wanted(rows), willing(columns);
        for (std::size_t i = 0; i < pins_.size(); ++i) {
            Vec3d to =
                (pins_[i].place - world[static_cast<std::size_t>(pins_[i].joint)].translation()) / size_;
            if (to.norm() > 0.15) // a linear step is only true for a little way
                to *= 0.15 / to.norm();
            wanted.segment<3>(static_cast<Eigen::Index>(3 * i)) = to;
        }
        for (std::size_t k = 0; k < joints_.size(); ++k) {
            const auto j = static_cast<std::size_t>(joints_[k]);
            const Quat axes = rotationOf(world[j]) * ranges_[j].frame;
            const bool hinge = isHinge(roles_[j].role) && ranges_[j].known;
            for (int a = 0; a < 3; ++a) {
                const auto column = static_cast<Eigen::Index>(3 * k) + a;
                // a hinge bends; what else it gives is given unwillingly. Roll is the last thing to use.
                willing[column] = settings_.willing[j] * (hinge ? (a == 0 ? 1.0 : 0.03) : a == 2 ? 0.3 : 1.0);
                const Vec3d axis = axes * Vec3d::Unit(a);
                for (std::size_t i = 0; i < pins_.size(); ++i)
                    if (moves_[k][i])
                        jacobian.block<3, 1>(static_cast<Eigen::Index>(3 * i), column) =
                            axis.cross(Vec3d(world[static_cast<std::size_t>(pins_[i].joint)].translation() -
                                             world[j].translation())) /
                            size_;
            }
        }
        const Eigen::MatrixXd weighted = willing.asDiagonal() * jacobian.transpose();
        Eigen::MatrixXd square = jacobian * weighted;
        square.diagonal().array() += damping * damping * 0.1;
        const Eigen::VectorXd step = weighted * square.ldlt().solve(wanted);
        for (std::size_t k = 0; k < joints_.size(); ++k) {
            const auto j = static_cast<std::size_t>(joints_[k]);
            Vec3d by = ranges_[j].frame * Vec3d(step.segment<3>(static_cast<Eigen::Index>(3 * k)));
            const double angle = std::min(by.norm(), 0.5);
            if (angle < 1e-12)
                continue;
            pose.turn[j] = within(
                ranges_[j], (pose.turn[j] * Quat(Eigen::AngleAxisd(angle, by.normalized()))).normalized());
        }
    }

    void keepTurn(Pose& pose, int joint, const Quat& kept) const {
        const auto j = static_cast<std::size_t>(joint);
        const int p = c_.skeleton.parent[j];
        const auto world = worldTransforms(c_.skeleton, pose);
        const Quat above = p < 0 ? Quat::Identity() : rotationOf(world[static_cast<std::size_t>(p)]);
        const Quat local = above * rotationOf(c_.skeleton.neutralLocal[j]);
        pose.turn[j] = within(ranges_[j], (local.inverse() * kept).normalized());
    }
};

} // namespace

Reach reach(const Character& c, const std::vector<JointRole>& roles, const std::vector<JointRange>& ranges,
            const Pose& from, const std::vector<Pin>& pins, const ReachSettings& settings) {
    return Solver(c, roles, ranges, pins, settings).solve(from);
}

std::vector<double> willingFor(const Character& c, const std::vector<JointRole>& roles, int dragged,
                               bool lean) {
    std::vector<double> out(c.skeleton.name.size(), 0);
    const auto parent = [&](int j) { return c.skeleton.parent[static_cast<std::size_t>(j)]; };
    const Side side = roles[static_cast<std::size_t>(dragged)].side;
    bool trunk = side == Side::Middle;
    for (int j = parent(dragged); j >= 0; j = parent(j)) {
        const JointRole& r = roles[static_cast<std::size_t>(j)];
        trunk |= r.side == Side::Middle;
        if (r.role == Role::Twist || r.role == Role::Helper || r.role == Role::Root ||
            r.role == Role::Pelvis || r.role == Role::Control || r.role == Role::End)
            continue;
        if (!trunk)
            out[static_cast<std::size_t>(j)] = r.role == Role::Collarbone || r.role == Role::Scapula ? 0.15
                                               : r.role == Role::Wrist || r.role == Role::Ankle      ? 0.3
                                                                                                     : 1;
        else if (side == Side::Middle || lean)
            out[static_cast<std::size_t>(j)] = side == Side::Middle ? 1 : 0.1;
    }
    return out;
}

} // namespace hobble
