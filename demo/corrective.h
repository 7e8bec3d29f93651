#pragma once
// Corrective shapes where skin alone collapses: the posed skin relaxed to be as rigid as it can, taken back
// through the skinning, and faded in by the joint's own angle.
#include "core/pose/motion.h"
#include "skinning.h"

namespace hobble::demo {

struct CorrectiveNeed {
    std::vector<Role> roles;                // of the joints whose motions get correctives
    std::map<std::string, double> strength; // by part: how much of the body's correction it is given; body 1
};

/// For every motion of the default plan that turns such a joint: shape targets at the thirds of its range on
/// the part `body`, carried to the other parts named, and the drivers that fade them in.
void addCorrectives(Character& character, int body, const CorrectiveNeed& need);

} // namespace hobble::demo
