#pragma once
// Posed skin made as rigid as it can be: what a corrective shape is solved by.
#include "core/geometry.h"

#include <utility>

namespace hobble {

/// Posed positions of `free` vertices that keep every neighbourhood as near to a rigid copy of its rest shape
/// as possible, and turn it much like its neighbours (Sorkine and Alexa 2007, "As-Rigid-As-Possible Surface
/// Modeling"; the smoothness term of Levi and Gotsman 2015, "Smooth Rotation Enhanced As-Rigid-As-Possible
/// Mesh Animation"). `size` is the limb's radius, metres: how far rotations are evened out. `braces` are held
/// like edges, so that a limb keeps its thickness.
std::vector<Vec3> relaxed(const std::vector<Triangle>& triangles, const std::vector<Vec3>& rest,
                          const std::vector<std::pair<int, int>>& braces, const std::vector<Vec3>& posed,
                          const std::vector<char>& free, double size, int rounds);

/// From each vertex straight through the flesh to the vertex nearest to where that comes out again, where it
/// does so within `longest`, metres.
std::vector<std::pair<int, int>> bracesThrough(const std::vector<Triangle>& triangles,
                                               const std::vector<Vec3>& rest, double longest);

} // namespace hobble
