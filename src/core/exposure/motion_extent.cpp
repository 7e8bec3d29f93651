#include "core/exposure/motion_extent.h"
#include "core/plain_number.h"

#include <algorithm>
#include <cmath>
#include <cstdio>

namespace hobble {

namespace {

// What a joint turns less in a whole pose does not make it that pose.
constexpr double kTakesPart = 15;

Vec3d rotationVector(const Quat& turn) {
    Quat q = turn;
    if (q.w() < 0)
        q.coeffs() = -q.coeffs();
    const double sine = q.vec().norm();
    return sine < 1e-12 ? Vec3d(Vec3d::Zero())
                        : Vec3d(q.vec() * (degrees(2 * std::atan2(sine, q.w())) / sine));
}

// Axes in which a turn about `axis` alone is a swing about the first, or a roll about the last.
Quat axesFor(const Vec3d& axis, const Vec3d& bone, bool roll) {
    const Vec3d z = roll ? axis : Vec3d(bone - bone.dot(axis) * axis).normalized();
    const Vec3d x = roll ? Vec3d(axis.unitOrthogonal()) : axis;
    Eigen::Matrix3d axes;
    axes << x, z.cross(x), z;
    return Quat(axes);
}

void write(std::string& out, const Vec3d& v) {
    for (int axis = 0; axis < 3; ++axis)
        out += fixedNumber(v[axis], 6) + (axis < 2 ? "," : ";");
}

} // namespace

MotionExtents::MotionExtents(const Character& c, const std::vector<JointRole>& roles, const Plan& plan) {
    const std::size_t joints = c.skeleton.name.size();
    const std::vector<JointRange> ranges = jointRanges(c, roles, plan);
    inPose_.assign(joints, 0);
    for (const Motion& m : plan.motions) {
        Way way;
        if (m.span == Span::Degrees && !m.keys) {
            double squares = 0;
            for (const JointTurn& t : m.turns)
                squares += t.share * t.share;
            for (const JointTurn& t : m.turns) {
                const auto j = static_cast<std::size_t>(t.joint);
                if (t.share == 0 || !ranges[j].known)
                    continue;
                const Vec3d axis = t.axis.normalized(), bone = ranges[j].frame * Vec3d::UnitZ();
                Along along;
                along.joint = j;
                along.roll = std::abs(axis.dot(bone)) > 0.7;
                along.axes.frame = axesFor(axis, bone, along.roll);
                along.share = t.share / squares;
                way.joints.push_back(along);
            }
            way.what = way.joints.empty() ? Way::Nothing : Way::Turns;
        } else if (m.span == Span::Percent && m.targets.empty()) {
            way.whole = m.limit();
            const hobble::Pose pose = poseAt(c.skeleton, m, way.whole);
            for (std::size_t j = 0; j < joints; ++j) {
                const Vec3d turn = rotationVector(pose.turn[j]);
                if (turn.norm() < kTakesPart)
                    continue;
                Along along;
                along.joint = j;
                along.turn = turn;
                way.joints.push_back(along);
                inPose_[j] = 1;
            }
            way.what = way.joints.empty() || way.whole <= 0 ? Way::Nothing : Way::Pose;
        } else if (m.span == Span::Percent && !m.targets.empty()) {
            way.targets = m.targets;
            way.what = Way::Targets;
        }
        key_ += m.id + (way.what == Way::Nothing ? ":-" : ":");
        for (const Along& a : way.joints) {
            key_ += std::to_string(a.joint) + (a.roll ? "~" : "=");
            write(key_, a.turn);
            write(key_, a.axes.frame.coeffs().head<3>());
            write(key_, Vec3d(a.share, 0, 0));
        }
        for (const TargetShare& t : way.targets) {
            key_ += std::to_string(t.part) + "/" + std::to_string(t.target) + "=";
            write(key_, Vec3d(t.perUnit, 0, 0));
        }
        ways_.push_back(std::move(way));
    }
}

bool MotionExtents::told(std::size_t motion, const std::vector<char>& turned, bool targets) const {
    const Way& way = ways_[motion];
    const auto isTurned = [&](const Along& a) { return turned[a.joint] != 0; };
    switch (way.what) {
    case Way::Nothing:
        return false;
    case Way::Turns:
        return std::any_of(way.joints.begin(), way.joints.end(), isTurned);
    case Way::Pose:
        return std::all_of(way.joints.begin(), way.joints.end(), isTurned);
    case Way::Targets:
        return targets;
    }
    return false;
}

void MotionExtents::of(const Pose& pose, std::vector<float>& out) const {
    thread_local std::vector<Vec3d> vectors;
    vectors.resize(inPose_.size());
    for (std::size_t j = 0; j < inPose_.size() && j < pose.turn.size(); ++j)
        if (inPose_[j])
            vectors[j] = rotationVector(pose.turn[j]);
    out.assign(ways_.size(), 0.f);
    for (std::size_t m = 0; m < ways_.size(); ++m) {
        const Way& way = ways_[m];
        double extent = 0;
        if (way.what == Way::Turns) {
            for (const Along& a : way.joints)
                if (a.joint < pose.turn.size())
                    extent += a.share * anglesIn(a.axes, pose.turn[a.joint])[a.roll ? 2 : 0];
        } else if (way.what == Way::Pose) {
            extent = way.whole * 2; // twice the pose is as much as is told
            for (const Along& a : way.joints)
                extent = std::min(extent, way.whole * a.turn.dot(vectors[a.joint]) / a.turn.squaredNorm());
        } else if (way.what == Way::Targets) {
            extent = std::numeric_limits<double>::infinity();
            for (const TargetShare& t : way.targets) {
                double weight = 0;
                for (const TargetWeight& w : pose.targets)
                    if (w.part == t.part && w.target == t.target)
                        weight = w.weight;
                extent = std::min(extent, weight / t.perUnit);
            }
        }
        out[m] = static_cast<float>(std::max(0.0, extent));
    }
}

} // namespace hobble
