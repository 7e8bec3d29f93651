#pragma once
// Garments cut from the body's own quads and held a little off the skin.
#include "quad_mesh.h"

#include <functional>

namespace hobble::demo {

struct Garment {
    QuadMesh mesh;
    std::vector<int> from; // per vertex: the body's vertex below it, -1 where it hangs free
};

/// `fine` is the subdivided `coarse`; quads of the cage that `wears` allows are covered, so that hems follow
/// loops.
Garment cutFrom(const QuadMesh& fine, const QuadMesh& coarse, double off,
                const std::function<bool(const Vec3d& middle, int label)>& wears);

/// The open borders, as they run along the garment's own quads reversed: ready to be drawn out.
std::vector<Ring> borders(const QuadMesh& mesh);

/// Draws a border out by one ring of points, given for each of its vertices.
Ring hem(Garment& garment, const Ring& border, const std::function<Vec3d(const Vec3d&)>& place,
         const std::function<bool(const Vec3d&, const Vec3d&)>& keep = {});

/// A belt or strap: a flat loop laid on the flesh where a plane cuts it, `off` above it.
Mesh strapAround(const std::vector<Solid>& flesh, const Vec3d& centre, const Vec3d& along,
                 const Vec3d& across, double width, double thickness, double off);

/// Outward normals, per vertex.
std::vector<Vec3d> normals(const QuadMesh& mesh);

} // namespace hobble::demo
