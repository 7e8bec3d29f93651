#pragma once
// Corrective shapes where skin alone collapses: the posed skin relaxed to be as rigid as it can, taken back
// through the skinning, and faded in by the joint's own angle.
#include "core/pose/motion.h"
#include "skinning.h"

namespace hobble::demo {

/// Posed positions of `free` vertices that keep every neighbourhood as near to a rigid copy of its rest shape
/// as possible, and turn it much like its neighbours (Sorkine and Alexa 2007, "As-Rigid-As-Possible Surface
/// Modeling"; the smoothness term of Levi and Gotsman 2015, "Smooth Rotation Enhanced As-Rigid-As-Possible
/// Mesh Animation"). `size` is the limb's radius, metres: how far rotations are evened out. `braces` are held
/// like edges, so that a limb keeps its thickness.
std::vector<Vec3> relaxed(const std::vector<Triangle>& triangles, const std::vector<Vec3>& rest,
                          const std::vector<std::pair<int, int>>& braces, const std::vector<Vec3>& posed,
                          const std::vector<char>& free, double size, int rounds);

/// From each vertex straight through the flesh to the vertex opposite.
std::vector<std::pair<int, int>> bracesThrough(const std::vector<Triangle>& triangles,
                                               const std::vector<Vec3>& rest, double longest);

struct CorrectiveNeed {
    std::vector<Role> roles;                // of the joints whose motions get correctives
    std::map<std::string, double> strength; // by part: how much of the body's correction it is given; body 1
};

/// For every motion of the default plan that turns such a joint: shape targets at the thirds of its range on
/// the part `body`, carried to the other parts named, and the drivers that fade them in.
void addCorrectives(Character& character, int body, const CorrectiveNeed& need);

} // namespace hobble::demo
