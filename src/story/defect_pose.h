#pragma once
// The pose a defect was seen in, on any build that has the joints.
#include "core/measure/subject.h"
#include "core/pose/motion.h"
#include "log/production_log.h"

namespace hobble {

/// From DefectFacts::pose; joints and targets the character lacks stay in neutral. Needs the facts with their
/// pose.
Pose poseOf(const DefectFacts& facts, const Character& character);

/// As something that can be measured: the standard plan's own motion where that is it, else one of 0 … 100 %
/// towards the pose. `at`: where in it the defect was seen.
struct DefectMotion {
    Motion motion;
    double at = 0;
};
DefectMotion motionOf(const DefectFacts& facts, const Subject& subject);

/// What Intake found, as if it had been found in the pose that shows it: motion, its name, degrees, pose and
/// "at" are filled in. The facts as they are where no pose shows it, and for all others.
DefectFacts inTellingPose(const DefectFacts& facts, const Subject& subject, const Progress& progress = {});

/// What of a part was marked, as vertices of its own; empty for one that is not in it.
std::vector<std::uint32_t> markedVertices(const DefectFacts& facts, const std::string& part);

} // namespace hobble
