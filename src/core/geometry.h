#pragma once
// The few geometric types everything shares. Positions are metres in float; transforms and sums are double.
#include "core/shared_vector.h"

#include <Eigen/Geometry>
#include <array>
#include <cstdint>
#include <numbers>
#include <vector>

namespace hobble {

using Vec3 = Eigen::Vector3f;
using Vec3d = Eigen::Vector3d;
using Quat = Eigen::Quaterniond;
using Transform = Eigen::Affine3d;
using Triangle = std::array<std::uint32_t, 3>;

inline constexpr double kPi = std::numbers::pi;
inline double radians(double degrees) { return degrees * kPi / 180.0; }
inline double degrees(double radians) { return radians * 180.0 / kPi; }

/// The rotation of an affine transform, its scale and shear taken out (SVD); never a reflection.
Quat rotationOf(const Transform& t);

/// The shortest turn that takes one direction (of any length) to another.
Quat turnFromTo(const Vec3d& from, const Vec3d& to);

/// m = u · diag(s) · vᵀ, s falling. Here and nowhere else, for it takes a compiler ten seconds.
struct SingularValues {
    Eigen::Matrix3d u, v;
    Vec3d s;
};
SingularValues singularValues(const Eigen::Matrix3d& m);
/// The rotation nearest to a matrix, never a reflection.
Eigen::Matrix3d closestRotation(const Eigen::Matrix3d& m);

/// Turn, shift and one scale that take the first of each pair nearest to the second, by squares (Umeyama
/// 1991). At least three pairs; not finite where they all lie at one place.
Transform bestSimilarity(const std::vector<std::pair<Vec3d, Vec3d>>& pairs);

/// Compressed lists: list i is item[first[i]] … item[first[i + 1]).
struct Lists {
    SharedVector<std::uint32_t> first{0};
    SharedVector<std::uint32_t> item;

    bool operator==(const Lists&) const = default;
    std::size_t size() const { return first.size() - 1; }
    const std::uint32_t* begin(std::size_t i) const { return item.data() + first[i]; }
    const std::uint32_t* end(std::size_t i) const { return item.data() + first[i + 1]; }
    std::size_t count(std::size_t i) const { return first[i + 1] - first[i]; }
};

/// Of length 1; zero for what is too short to have a direction.
inline Vec3d unitOrZero(const Vec3d& v) { return v.norm() > 1e-9 ? Vec3d(v.normalized()) : Vec3d::Zero(); }

} // namespace hobble
