#pragma once
// Rounded bodies from smoothly united solids, meshed evenly: a dual mesh of the zero surface on a grid
// (Gibson 1998, "Constrained Elastic Surface Nets"), its vertices pulled onto the surface and relaxed along
// it.
#include "core/geometry.h"

#include <functional>
#include <string>

namespace hobble::demo {

struct Solid {
    enum class Shape { Cone, Ellipsoid, Box };
    Shape shape = Shape::Cone;
    int bone = 0;                               // whose flesh it is
    Vec3d a = Vec3d::Zero(), b = Vec3d::Zero(); // cone: its ends; otherwise a is the centre
    double ra = 0, rb = 0;                      // cone: radii at the ends; box: ra is the rounding
    Vec3d size = Vec3d::Ones();                 // ellipsoid and box: half extents
    Eigen::Matrix3d turn = Eigen::Matrix3d::Identity();
    double blend = 0.02; // metres over which it melts into what came before
    bool carve = false;  // taken away instead

    double distance(const Vec3d& p) const; // negative inside; exact only near the surface
};

/// Distance to the union of all, melted in their order.
double field(const std::vector<Solid>& solids, const Vec3d& p);

/// A point drawn onto the zero surface along the gradient, no farther than `most` a step.
Vec3d pulled(const std::vector<Solid>& solids, Vec3d p, double most);

struct Mesh {
    std::vector<Vec3> position;
    std::vector<Triangle> triangles; // facing outwards
};

/// Grid spacing, metres, along an axis (0, 1, 2) at a coordinate: finer where small things are.
using Spacing = std::function<double(int axis, double at)>;

/// The grid straddles x = 0 evenly, so that a mirrored body has a mirrored mesh.
Mesh polygonize(const std::vector<Solid>& solids, const Spacing& spacing);
Mesh polygonize(const std::vector<Solid>& solids, double cell);

} // namespace hobble::demo
