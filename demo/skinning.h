#pragma once
// Good weights by construction: heat spreads each bone's share over the surface, then twist joints,
// half-turning helpers and the joints of the face take theirs.
#include "rig.h"

namespace hobble::demo {

/// The nearest of some bones to a point, and how far it is.
struct Bone {
    int joint = 0;
    Vec3d a = Vec3d::Zero(), b = Vec3d::Zero();
};
struct Home {
    int joint = 0;
    double distance = 0; // metres, to the bone
};
Home nearestBone(const std::vector<Bone>& bones, const Vec3d& at);

/// Equilibrium of heat over the surface (Baran and Popović 2007, "Automatic Rigging and Animation of 3D
/// Characters", section 4): bounded by 0 and 1, smooth, and local. `reach` is how far a share fades, in the
/// vertex's distance to its bone.
std::vector<Weights> heatWeights(const Mesh& mesh, const std::vector<Home>& home, double reach);

double shareOf(const Weights& weights, int joint);
/// Moves a share (0 … 1) of what one joint holds to another.
void hand(Weights& weights, int from, int to, double share);

/// The share of a bone goes to those of `along` it lies between: joints at rising places (0 … 1) on the bone.
void shareTwist(std::vector<Weights>& weights, const Mesh& mesh, const Bone& bone,
                const std::vector<std::pair<double, int>>& along);

/// A helper that makes half of a joint's turn takes 2·C·(1 - C), C being what the joint and those below it
/// hold.
void shareHelper(std::vector<Weights>& weights, const Skeleton& skeleton, int joint, int helper);

/// Everything but `to` gives a share that falls from `most` at the centre to none at the radius; of the
/// vertices that `where` allows.
void shareSpot(std::vector<Weights>& weights, const Mesh& mesh, int to, const Vec3d& centre,
               const Vec3d& radius, double most, const std::function<double(const Vec3d&)>& where = {});

/// For a garment or strap: per vertex the weights of the nearest vertices of what lies below, evened out.
std::vector<Weights> carriedWeights(const Mesh& mesh, const std::vector<Vec3>& below,
                                    const std::vector<Weights>& weights, int smoothing);

} // namespace hobble::demo
