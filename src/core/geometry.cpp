#include "core/geometry.h"

#include <Eigen/SVD>

#include <cmath>

namespace hobble {

SingularValues singularValues(const Eigen::Matrix3d& m) {
    const Eigen::JacobiSVD<Eigen::Matrix3d> svd(m, Eigen::ComputeFullU | Eigen::ComputeFullV);
    return {svd.matrixU(), svd.matrixV(), svd.singularValues()};
}

Eigen::Matrix3d closestRotation(const Eigen::Matrix3d& m) {
    // Each step of the polar decomposition's iteration (Higham 1986, "Computing the Polar Decomposition")
    // squares what is amiss: of what is a rotation but for the digits of a file, one or two are enough.
    constexpr double nearly = 1e-4, there = 1e-8;
    Eigen::Matrix3d near = m, square = m.transpose() * m;
    double amiss = (square - Eigen::Matrix3d::Identity()).cwiseAbs().maxCoeff();
    if (amiss < nearly && m.determinant() > 0) {
        for (;;) {
            near = near * (1.5 * Eigen::Matrix3d::Identity() - 0.5 * square);
            if (amiss < there)
                return near;
            square = near.transpose() * near;
            amiss = (square - Eigen::Matrix3d::Identity()).cwiseAbs().maxCoeff();
        }
    }
    auto [u, v, s] = singularValues(m);
    const Eigen::Matrix3d r = u * v.transpose();
    if (r.determinant() >= 0)
        return r;
    u.col(2) = -u.col(2);
    return u * v.transpose();
}

Quat rotationOf(const Transform& t) { return Quat(closestRotation(t.linear())).normalized(); }

Quat turnFromTo(const Vec3d& from, const Vec3d& to) {
    const Vec3d a = from.normalized(), b = to.normalized();
    const double cosine = a.dot(b);
    if (cosine < -1 + 1e-12) { // half a turn: about whatever lies across
        const Vec3d axis = a.unitOrthogonal();
        return Quat(0, axis.x(), axis.y(), axis.z());
    }
    const double w = std::sqrt((1 + cosine) * 2);
    const Vec3d axis = a.cross(b) / w;
    return Quat(w / 2, axis.x(), axis.y(), axis.z());
}

Transform bestSimilarity(const std::vector<std::pair<Vec3d, Vec3d>>& pairs) {
    const auto count = static_cast<double>(pairs.size());
    Vec3d fromMiddle = Vec3d::Zero(), toMiddle = Vec3d::Zero();
    for (const auto& [from, to] : pairs) {
        fromMiddle += from / count;
        toMiddle += to / count;
    }
    Eigen::Matrix3d together = Eigen::Matrix3d::Zero();
    double spread = 0;
    for (const auto& [from, to] : pairs) {
        together += (to - toMiddle) * (from - fromMiddle).transpose() / count;
        spread += (from - fromMiddle).squaredNorm() / count;
    }
    const auto [u, v, s] = singularValues(together);
    const double last = u.determinant() * v.determinant() < 0 ? -1 : 1;
    Transform out;
    const Vec3d signs(1, 1, last);
    out.linear() = (s.dot(signs) / spread) * (u * signs.asDiagonal() * v.transpose());
    out.translation() = toMiddle - out.linear() * fromMiddle;
    out.makeAffine();
    return out;
}

} // namespace hobble
