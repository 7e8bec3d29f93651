#pragma once
// How the edge loops of a mesh run at a joint: with the bend, or askew. From each vertex an edge is followed
// straight on, vertex after vertex; what comes back to where it began, once round the limb, is a ring.
// Diagonals of triangulated quads wind away along the limb and are none. A ring follows a bend when the
// bend's axis lies in its plane. Our own.
#include "core/measure/subject.h"
#include "core/pose/motion.h"

namespace hobble {

struct EdgeRing {
    Vec3d normal;  // of its plane, unit
    double length; // metres
};

/// The rings within one limb radius of a joint, neutral; empty where no limb closes about the joint, or fewer
/// than half of its vertices lie on a ring: a mesh without loops.
std::vector<EdgeRing> edgeRingsAt(const Subject& subject, int joint);

/// Degrees between the planes of rings and an axis, world, unit: the mean by their length. 0 without rings.
double degreesAskew(const std::vector<EdgeRing>& rings, const Vec3d& axis);

/// The axis a motion bends a joint about, world, unit; nothing where it does not, or rolls it.
std::optional<Vec3d> bendAxis(const Subject& subject, const Motion& motion, int joint);

/// Beyond which loops are told to run askew, degrees.
inline constexpr double kEdgesAskew = 15;

} // namespace hobble
