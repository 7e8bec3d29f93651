#include "core/pose/compound_poses.h"
#include "core/pose/motion.h"
#include "core/pose/planner/planner.h"
#include "core/pose/shape_motions.h"

namespace hobble {

Plan defaultPlan(const Character& character, const std::vector<JointRole>& roles) {
    return Planner(character, roles).make();
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
