// A joint moved to another place, or turned in its own axes; the skin in neutral and what hangs from it stay
// (core/character/moved_joint.h).
#include "core/character/moved_joint.h"
#include "core/mend/step.h"
#include "core/words/say.h"

#include <cmath>

namespace hobble {

Result<Done> pivot(const Step& step, int joint, Character& character) {
    if (!step.at.allFinite())
        return Error{say("the joint goes to no place")};
    Transform world = character.skeleton.neutralWorld[static_cast<std::size_t>(joint)];
    const Vec3d from = world.translation();
    world.translation() = from + step.strength * (step.at - from);
    moveJoint(character, joint, world);
    return Done{};
}

Result<Done> turnAxes(const Step& step, int joint, Character& character) {
    if (!step.at.allFinite() || step.at.norm() < 1e-9)
        return Error{say("the joint turns about no axis")};
    Transform world = character.skeleton.neutralWorld[static_cast<std::size_t>(joint)];
    const double angle = radians(step.strength * step.amount);
    world.linear() = Quat(Eigen::AngleAxisd(angle, step.at.normalized())).toRotationMatrix() * world.linear();
    moveJoint(character, joint, world);
    return Done{};
}

} // namespace hobble
