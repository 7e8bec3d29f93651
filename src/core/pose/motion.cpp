#include "core/pose/motion.h"

#include <algorithm>

namespace hobble {

double Motion::limit() const {
    return degrees.empty() ? 0 : *std::max_element(degrees.begin(), degrees.end());
}

std::size_t Plan::stepCount() const {
    std::size_t n = 0;
    for (const Motion& m : motions)
        n += m.degrees.size();
    return n;
}

Pose poseAt(const Skeleton& skeleton, const Motion& motion, double angle) {
    Pose pose = Pose::neutral(skeleton);
    for (const JointTurn& t : motion.turns)
        pose.turn[t.joint] = pose.turn[t.joint] * Quat(Eigen::AngleAxisd(radians(angle * t.share), t.axis));
    return pose;
}

std::vector<double> stepsTo(double limit, double step) {
    std::vector<double> out{0};
    for (int k = 1; k * step < limit - 1e-6; ++k)
        out.push_back(k * step);
    out.push_back(limit);
    out.push_back(0);
    return out;
}

} // namespace hobble
