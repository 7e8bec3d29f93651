#include "core/geometry.h"

#include <Eigen/SVD>

namespace hobble {

Quat rotationOf(const Transform& t) {
    Eigen::JacobiSVD<Eigen::Matrix3d> svd(t.linear(), Eigen::ComputeFullU | Eigen::ComputeFullV);
    Eigen::Matrix3d r = svd.matrixU() * svd.matrixV().transpose();
    if (r.determinant() < 0) {
        Eigen::Matrix3d u = svd.matrixU();
        u.col(2) = -u.col(2);
        r = u * svd.matrixV().transpose();
    }
    return Quat(r).normalized();
}

Quat turnFromTo(const Vec3d& from, const Vec3d& to) { return Quat::FromTwoVectors(from, to); }

} // namespace hobble
