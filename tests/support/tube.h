#pragma once
// Generated characters with known answers.
#include "core/character/character.h"
#include "core/measure/subject.h"
#include "core/pose/motion.h"

#include <functional>

namespace hobble::test {

struct TubeSpec {
    double radius = 0.1, length = 1.6,
           blendHalf = 0.2; // metres; the tube lies along +Y, its joint at the origin
    int sides = 64, rings = 128;
    bool capped = true;
    std::string rootName = "upper_arm.L", tipName = "forearm.L";
};

/// Two joints: one at the lower end, one at the origin. The weight of the second rises linearly from 0 to 1
/// over y = −blendHalf … +blendHalf.
Character tube(const TubeSpec& spec = {});

/// Fills what follows from the rest: bind positions, neutral, parts' skins. `weights` has (joint, weight) per
/// vertex.
void finish(Character& c, const std::vector<std::vector<std::pair<int, double>>>& weights);

/// A skeleton from names, parents and places, joints unrotated.
Skeleton skeletonOf(const std::vector<std::tuple<std::string, int, Vec3d>>& joints);

/// A standing figure of tubes' skeletons with 43 joints, named by `name(role word, side)`; no skin to speak
/// of: one triangle at each joint, weighted to it.
Character stickFigure(const std::vector<std::tuple<std::string, int, Vec3d>>& joints);

/// The second joint of a tube turned about `axis` to `degrees`, then neutral, in one motion.
Plan turnPlan(const Vec3d& axis, std::vector<double> degrees, int joint = 1, bool roll = false);

Subject subjectOf(Character c);

/// Welded, ascending: those whose neutral place is such.
std::vector<std::uint32_t> verticesWhere(const Subject& s, const std::function<bool(const Vec3&)>& holds);

/// The whole character moved rigidly: neutral, bind and joints.
Character moved(const Character& c, const Transform& by);

/// Mirrored in x, triangles turned to keep facing outwards, names' sides swapped (.L/.R).
Character mirroredX(const Character& c);

} // namespace hobble::test
