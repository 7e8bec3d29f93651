#include "core/character/role_labels.h"
#include "core/character/stacked_joints.h"
#include "core/pose/compound_poses.h"
#include "core/pose/motion.h"
#include "core/pose/planner/planner.h"
#include "core/pose/shape_motions.h"

namespace hobble {

Plan defaultPlan(const Character& character, const std::vector<JointRole>& roles) {
    const auto isSomething = [&](int j) {
        return !seenThrough(labelOf(roles[static_cast<std::size_t>(j)].role, false));
    };
    const auto stacked = stackedJoints(character, isSomething);
    if (!stacked)
        return Planner(character, roles).make();
    // Of joints that lie on one another one is turned, and the next of its limb is next to it.
    std::vector<JointRole> ofStacks;
    for (int j : stacked->stands) {
        JointRole r = roles[static_cast<std::size_t>(j)];
        r.mirror = r.mirror < 0 ? -1 : stacked->of[static_cast<std::size_t>(r.mirror)];
        ofStacks.push_back(r);
    }
    Plan plan = Planner(stacked->character, ofStacks).make();
    for (Motion& m : plan.motions)
        for (JointTurn& t : m.turns)
            t.joint = stacked->stands[static_cast<std::size_t>(t.joint)];
    return plan;
}

std::vector<Motion> motionsByShape(const Character& character, const std::vector<JointRole>& roles,
                                   int joint) {
    return Planner(character, roles).byShape(joint);
}

Plan fullPlan(const Character& character, const std::vector<JointRole>& roles) {
    Plan plan = defaultPlan(character, roles);
    std::vector<Motion> poses = compoundPoses(character, roles, plan);
    std::vector<Motion> shapes = shapeMotions(character, roles);
    plan.motions.insert(plan.motions.end(), std::make_move_iterator(poses.begin()),
                        std::make_move_iterator(poses.end()));
    plan.motions.insert(plan.motions.end(), std::make_move_iterator(shapes.begin()),
                        std::make_move_iterator(shapes.end()));
    plan.refineTo = 2.5;
    return plan;
}

} // namespace hobble
