#include "core/character/body.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

Vec3d place(const Character& c, int j) { return c.skeleton.neutralWorld[j].translation(); }

Vec3d unitOrZero(const Vec3d& v) { return v.norm() > 1e-9 ? Vec3d(v.normalized()) : Vec3d::Zero(); }

// The file's axis a direction nearly follows: characters stand upright even when their legs are a little
// apart.
Vec3d snapped(const Vec3d& v) {
    Eigen::Index axis;
    const double most = v.cwiseAbs().maxCoeff(&axis);
    if (most < std::cos(radians(30)))
        return v;
    Vec3d out = Vec3d::Zero();
    out[axis] = v[axis] < 0 ? -1 : 1;
    return out;
}

} // namespace

BodyFrame bodyFrame(const Character& c, const std::vector<JointRole>& roles) {
    BodyFrame body;
    const Skeleton& sk = c.skeleton;
    Vec3d left = Vec3d::Zero(), legs = Vec3d::Zero(), feet = Vec3d::Zero(), spine = Vec3d::Zero();
    Vec3d pelvis = Vec3d::Zero();
    int hips = 0;
    bool fore = false;
    for (int j = 0; j < sk.size(); ++j) {
        const JointRole& r = roles[j];
        fore |= r.fore;
        if (r.side == Side::Left && r.mirror >= 0)
            left += place(c, j) - place(c, r.mirror);
        if (r.role == Role::Hip && !r.fore) {
            const auto below = sk.subtree(j);
            double farthest = 0;
            Vec3d foot = Vec3d::Zero();
            for (int k = j + 1; k < sk.size(); ++k)
                if (below[k] && (roles[k].role == Role::Ankle || roles[k].role == Role::Knee) &&
                    (place(c, k) - place(c, j)).norm() > farthest) {
                    foot = place(c, k) - place(c, j);
                    farthest = foot.norm();
                }
            legs -= foot;
            pelvis += place(c, j);
            ++hips;
        }
        if (r.role == Role::Toe && r.segment == 0 && sk.parent[j] >= 0 &&
            roles[sk.parent[j]].role == Role::Ankle)
            feet += unitOrZero(place(c, j) - place(c, sk.parent[j]));
    }
    Vec3d top = Vec3d::Zero();
    int tops = 0;
    for (int j = 0; j < sk.size(); ++j)
        if (roles[j].role == Role::Neck || roles[j].role == Role::Head) {
            top += place(c, j);
            ++tops;
        }
    if (hips && tops)
        spine = unitOrZero(top / tops - pelvis / hips);

    if (legs.norm() > 1e-9) {
        body.up = unitOrZero(legs);
        body.basis = "up from the legs";
    } else if (spine.norm() > 0) {
        body.up = spine;
        body.basis = "up from the spine";
    } else {
        body.basis = "up as in the file";
    }
    body.up = snapped(body.up);
    body.quadruped =
        fore || (legs.norm() > 1e-9 && spine.norm() > 0 && spine.dot(body.up) < std::cos(radians(55)));

    left = left - left.dot(body.up) * body.up;
    if (left.norm() > 1e-6 * std::max(c.extent(), 1e-9)) {
        body.left = snapped(unitOrZero(left));
        body.basis += ", sides from the paired joints";
    } else {
        feet -= feet.dot(body.up) * body.up;
        const Vec3d ahead = feet.norm() > 1e-6                            ? unitOrZero(feet)
                            : std::abs(body.up.dot(Vec3d::UnitZ())) < 0.9 ? Vec3d::UnitZ()
                                                                          : Vec3d(-Vec3d::UnitY());
        body.left = body.up.cross(ahead).normalized();
        body.basis += feet.norm() > 1e-6 ? ", front from the feet" : ", front as in the file";
    }
    body.left = (body.left - body.left.dot(body.up) * body.up).normalized();
    body.forward = body.left.cross(body.up);
    if (feet.dot(body.forward) < -0.5) { // feet do not lie about the front; names of sides may
        body.forward = -body.forward;
        body.left = -body.left;
        body.basis += "; the joints named left are on its right";
    }
    double low = 0, high = 0;
    for (std::size_t v = 0; v < c.neutral.size(); ++v) {
        const double h = body.up.dot(c.neutral[v].cast<double>());
        low = v ? std::min(low, h) : h;
        high = v ? std::max(high, h) : h;
    }
    body.height = high - low;
    return body;
}

Vec3d boneDirection(const Character& c, const std::vector<JointRole>& roles, int joint) {
    const Skeleton& sk = c.skeleton;
    auto side = [&](int k) {
        const Role r = roles[k].role;
        return r == Role::Twist || r == Role::Helper || r == Role::Control;
    };
    Vec3d sum = Vec3d::Zero();
    const double tiny = 1e-5 * std::max(c.extent(), 1e-9);
    for (int pass = 0; pass < 2 && sum.norm() <= tiny; ++pass) // skinned children first, then markers
        for (int k = joint + 1; k < sk.size(); ++k)
            if (sk.parent[k] == joint && !side(k) && (pass == 1 || roles[k].movesSkin))
                sum += place(c, k) - place(c, joint);
    if (sum.norm() > tiny)
        return sum.normalized();
    Vec3d own = Vec3d::Zero();
    double weight = 0;
    for (std::size_t v = 0; v < c.vertexCount(); ++v)
        for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
            if (c.weights.joint[i] == joint) {
                own += c.weights.weight[i] * c.neutral[v].cast<double>();
                weight += c.weights.weight[i];
            }
    return weight > 0 ? unitOrZero(own / weight - place(c, joint)) : Vec3d::Zero();
}

double neutralBend(const Character& c, const std::vector<JointRole>& roles, int joint, Vec3d& axis) {
    axis = Vec3d::Zero();
    int up = c.skeleton.parent[joint];
    while (up >= 0 && roles[up].role == Role::Twist)
        up = c.skeleton.parent[up];
    if (up < 0)
        return 0;
    const Vec3d above = unitOrZero(place(c, joint) - place(c, up)), below = boneDirection(c, roles, joint);
    const Vec3d cross = above.cross(below);
    if (above.norm() == 0 || below.norm() == 0)
        return 0;
    if (cross.norm() > 1e-4)
        axis = cross.normalized();
    return std::atan2(cross.norm(), above.dot(below));
}

Vec3d palmDirection(const Character& c, const std::vector<JointRole>& roles, const BodyFrame& body,
                    int wrist) {
    const Vec3d along = boneDirection(c, roles, wrist);
    const bool isLeft = roles[wrist].side != Side::Right;
    const auto below = c.skeleton.subtree(wrist);
    int thumb = -1;
    std::vector<int> fingers;
    for (int k = wrist + 1; k < c.skeleton.size(); ++k) {
        if (!below[k] || roles[k].segment != 0)
            continue;
        if (roles[k].role == Role::Thumb && thumb < 0)
            thumb = k;
        if (roles[k].role == Role::Finger)
            fingers.push_back(k);
    }
    if (thumb >= 0 && !fingers.empty()) {
        Vec3d knuckles = Vec3d::Zero();
        for (int f : fingers)
            knuckles += place(c, f) / static_cast<double>(fingers.size());
        const Vec3d spread = place(c, thumb) - knuckles;
        const Vec3d palm = (knuckles - place(c, wrist)).cross(spread);
        if (palm.norm() > 1e-12)
            return (isLeft ? palm : Vec3d(-palm)).normalized();
    }
    // No thumb to tell: a raised arm's palm looks down, a hanging arm's palm looks at the body.
    const Vec3d outward = isLeft ? body.left : Vec3d(-body.left);
    // What a quadruped stands on would be its palm if it walked on it: a fore limb closes backwards.
    Vec3d palm = body.quadruped                       ? Vec3d(-body.forward)
                 : std::abs(along.dot(body.up)) < 0.7 ? Vec3d(-body.up)
                                                      : Vec3d(-outward);
    palm -= palm.dot(along) * along;
    return unitOrZero(palm);
}

} // namespace hobble
