#pragma once
// Poses in which faults hide that no joint shows by itself: sitting, crouching, reaching, a fist. Each is
// told by the motions it is made of ("hip front 90° on both sides"), so that it fits any proportions; it is
// tested as a ramp from neutral, so that its onset is known.
#include "core/pose/motion.h"

namespace hobble {

/// Joints through so many degrees, each about its own axis, as one motion of 0 … 100 %. Turns of one joint
/// are taken together into one. `leads`, when not −1, comes first among the turns.
Motion poseMotion(const Skeleton& skeleton, const std::string& id, const std::string& name, Side side,
                  const Pose& pose, int leads = -1);

/// Those the character has the joints for, after the motions of `singles`. Bipeds and quadrupeds have poses
/// of their own. A body that sinks or rises is moved as a whole, so that its feet stay on the ground.
std::vector<Motion> compoundPoses(const Character& character, const std::vector<JointRole>& roles,
                                  const Plan& singles);

/// Metres along `up` by which a pose lifts the lowest foot off where it stood; 0 for a body without feet.
double liftOfFeet(const Character& character, const std::vector<JointRole>& roles, const Vec3d& up,
                  const Pose& pose);

} // namespace hobble
