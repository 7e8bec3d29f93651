#include "core/pose/planner/planner.h"

#include <algorithm>
#include <cmath>

namespace hobble {

void Planner::collarbone(int j, const std::string& part) {
    const Vec3d bone = boneDirection(c_, roles_, j);
    if (!roles_[j].fore) { // a blade that a leg hangs from only glides along the ribs
        add(j, swing(bone, body_.up), 30, Limb::Arms, part + " up");
        add(j, swing(bone, -body_.up), 10, Limb::Arms, part + " down");
    }
    add(j, swing(bone, body_.forward), 20, Limb::Arms, part + " front");
    add(j, swing(bone, -body_.forward), 20, Limb::Arms, part + " back");
}

void Planner::rolls(int j, double in, double out, Limb limb, const std::string& part) {
    Vec3d bone = boneDirection(c_, roles_, j);
    if (roles_[j].side == Side::Right)
        bone = -bone; // a mirrored roll turns the other way about its own bone
    add(j, bone, in, limb, part + " roll in", true);
    add(j, -bone, out, limb, part + " roll out", true);
}

void Planner::shoulder(int j) {
    const Vec3d bone = boneDirection(c_, roles_, j);
    if (body_.quadruped) {
        add(j, swing(bone, body_.forward), 40, Limb::Arms, "shoulder front");
        add(j, swing(bone, -body_.forward), 35, Limb::Arms, "shoulder back");
        if (sprawls(j))
            raised(j, 25, 25, Limb::Arms, "shoulder");
        else
            add(j, swing(bone, outward(j)), 25, Limb::Arms, "shoulder out");
        return;
    }
    // Of the 180° an arm can be raised, the shoulder joint gives 120; the collarbone's rhythm gives the
    // rest, where there is one to give it (Inman, Saunders and Abbott 1944, "Observations on the Function
    // of the Shoulder Joint").
    const int above = nextAbove(c_.skeleton, roles_, j);
    const bool collarbone =
        above >= 0 && (roles_[above].role == Role::Collarbone || roles_[above].role == Role::Scapula);
    const double most = collarbone ? 120 : 180;
    // How far the arm is already raised sideways in neutral: 0 hanging, 90 in a T.
    const double raised = degrees(std::acos(std::clamp(bone.dot(-body_.up), -1.0, 1.0)));
    const Vec3d raise = outward(j).cross(body_.up).normalized();
    add(j, raise, std::max(most - raised, 20.0), Limb::Arms, "shoulder raise");
    add(j, -raise, raised, Limb::Arms, "shoulder lower");
    add(j, swing(bone, body_.forward), raised > 45 || collarbone ? 120 : 170, Limb::Arms, "shoulder front");
    add(j, swing(bone, -body_.forward), raised > 45 ? 40 : 50, Limb::Arms, "shoulder back");
    rolls(j, 70, 90, Limb::Arms, "shoulder");
}

void Planner::bendAndStraighten(int j, Limb limb, const std::string& part, double limit,
                                const Vec3d& towards) {
    double bent = 0;
    const Vec3d axis = hinge(j, towards, bent);
    add(j, axis, std::max(limit - bent, 20.0), limb, part + " flex");
    if (bent >= 15)
        add(j, -axis, body_.quadruped ? 0.6 * bent : bent, limb, part + " straighten");
}

void Planner::wrist(int j) {
    const Vec3d bone = boneDirection(c_, roles_, j), palm = palmDirection(c_, roles_, body_, j);
    // A fore limb's wrist, the carpus, hardly gives backwards.
    add(j, swing(bone, palm), body_.quadruped ? 65 : 80, Limb::Arms, "wrist bend in");
    add(j, swing(bone, -palm), body_.quadruped ? 10 : 70, Limb::Arms, "wrist bend back");
    if (!body_.quadruped)
        rolls(j, 80, 80, Limb::Arms, "wrist");
}

void Planner::finger(int j) {
    const JointRole& r = roles_[j];
    const bool thumb = r.role == Role::Thumb;
    static const char* segments[] = {"base", "middle", "tip"};
    const Hand hand = handAbove(j);
    const std::string part =
        (!thumb && hand.fingers.size() == 1 ? "fingers" : digitName(std::max(r.digit, 0))) + " " +
        segments[std::min(r.segment, 2)];
    const double limit = thumb ? (r.segment == 0   ? 50
                                  : r.segment == 1 ? 55
                                                   : 80)
                               : (r.segment == 0   ? 90
                                  : r.segment == 1 ? 100
                                                   : 70);
    double bent = 0;
    Vec3d axis = curlAxis(c_, roles_, hand, j, bent);
    if (axis.norm() < 0.5)
        axis = hinge(j, hand.palm.norm() > 0.5 ? hand.palm : Vec3d(-body_.up), bent);
    add(j, axis, std::max(limit - bent, 20.0), Limb::Hands, part + " curl");
    if (r.segment == 0 && !thumb)
        spread(j, hand.wrist, hand.palm, part);
}

Hand Planner::handAbove(int j) const {
    int wrist = c_.skeleton.parent[j];
    while (wrist >= 0 && roles_[wrist].role != Role::Wrist)
        wrist = c_.skeleton.parent[wrist];
    if (wrist < 0) {
        wrist = c_.skeleton.parent[j];
        while (wrist >= 0 && (roles_[wrist].role == roles_[j].role || roles_[wrist].role == Role::Palm))
            wrist = c_.skeleton.parent[wrist];
    }
    return wrist < 0 ? Hand{} : handOf(c_, roles_, body_, wrist);
}

void Planner::palm(int j) {
    const Hand hand = handAbove(j);
    if (hand.palm.norm() < 0.5)
        return sway({j}, "palm", 10, false);
    const int digit = roles_[j].digit;
    const Vec3d axis = swing(boneDirection(c_, roles_, j), hand.palm);
    add(j, axis,
        digit == 4   ? 20
        : digit == 3 ? 12
                     : 6,
        Limb::Hands, (digit > 0 ? digitName(digit) + " " : std::string()) + "palm cup");
}

void Planner::spread(int j, int wrist, const Vec3d& palm, const std::string& part) {
    if (wrist < 0 || palm.norm() < 0.5)
        return;
    const Vec3d middle = boneDirection(c_, roles_, wrist);
    const Vec3d root = c_.skeleton.neutralWorld[j].translation();
    const Vec3d hand = c_.skeleton.neutralWorld[wrist].translation();
    const Vec3d across = palm.cross(middle);
    double sum = 0, all = 0, widest = 0; // where the fingers' roots lie across the hand
    for (int k = 0; k < c_.skeleton.size(); ++k)
        if (roles_[k].role == Role::Finger && roles_[k].segment == 0 && roles_[k].side == roles_[j].side) {
            const double at = (c_.skeleton.neutralWorld[k].translation() - hand).dot(across);
            sum += at;
            ++all;
            widest = std::max(widest, std::abs((c_.skeleton.neutralWorld[k].translation() - root).norm()));
        }
    const double off = (root - hand).dot(across) - sum / all;
    if (all < 2 || std::abs(off) < 0.1 * widest)
        return;
    add(j, swing(boneDirection(c_, roles_, j), off > 0 ? across : Vec3d(-across)), 20, Limb::Hands,
        part + " spread");
}

void Planner::wing(int j) {
    const Vec3d bone = boneDirection(c_, roles_, j);
    static const char* segments[] = {"wing root", "wing middle", "wing tip"};
    const std::string part = segments[std::min(roles_[j].segment, 2)];
    if (roles_[j].segment == 0) {
        add(j, swing(bone, body_.up), 70, Limb::Arms, part + " up");
        add(j, swing(bone, -body_.up), 60, Limb::Arms, part + " down");
        rolls(j, 40, 40, Limb::Arms, part);
    }
    add(j, swing(bone, -body_.forward), roles_[j].segment == 0 ? 60 : 110, Limb::Arms, part + " fold");
    add(j, swing(bone, body_.forward), roles_[j].segment == 0 ? 40 : 20, Limb::Arms, part + " sweep");
}

void Planner::fetlock(int j) {
    const Vec3d bone = boneDirection(c_, roles_, j);
    add(j, swing(bone, -body_.forward), 70, Limb::Legs, "fetlock flex");
    add(j, swing(bone, body_.forward), 30, Limb::Legs, "fetlock straighten");
}

void Planner::raised(int j, double up, double down, Limb limb, const std::string& part) {
    const Vec3d reach = lever(j);
    const Vec3d axis = swing(reach.normalized(), body_.up);
    add(j, axis, up, limb, part + " up");
    add(j, -axis, down, limb, part + " down");
}

void Planner::hip(int j) {
    const Vec3d bone = boneDirection(c_, roles_, j);
    const bool quad = body_.quadruped;
    add(j, swing(bone, body_.forward), quad ? 30 : 120, Limb::Legs, "hip front");
    add(j, swing(bone, -body_.forward), quad ? 35 : 30, Limb::Legs, "hip back");
    if (sprawls(j))
        raised(j, 25, 25, Limb::Legs, "hip");
    else
        add(j, swing(bone, outward(j)), quad ? 25 : 45, Limb::Legs, "hip out");
    if (!quad) {
        add(j, swing(bone, -outward(j)), 25, Limb::Legs, "hip in");
        rolls(j, 40, 45, Limb::Legs, "hip");
    }
}

void Planner::ankle(int j) {
    const Vec3d bone = boneDirection(c_, roles_, j);
    if (body_.quadruped) {
        double bent = 0;
        const Vec3d axis = hinge(j, body_.forward, bent);
        add(j, axis, 60, Limb::Legs, "hock flex");
        add(j, -axis, std::min(bent, 40.0), Limb::Legs, "hock straighten");
        return;
    }
    // what stands on its toes brings the whole foot forward
    const Vec3d raise = std::abs(bone.dot(body_.up)) > 0.85 ? body_.forward : body_.up;
    add(j, swing(bone, raise), 20, Limb::Legs, "ankle up");
    add(j, swing(bone, -raise), 50, Limb::Legs, "ankle down");
}

void Planner::toe(int j) {
    const JointRole& r = roles_[j];
    const Vec3d bone = boneDirection(c_, roles_, j);
    const std::string part = (r.digit > 1 ? "toe " + std::to_string(r.digit) : std::string("toes")) +
                             (r.segment > 0 ? " tip" : "");
    // A hoof is a stiff toe on a short pastern and stands; a paw lies.
    const bool stands = bone.dot(body_.up) < (body_.quadruped ? -0.6 : -0.85);
    const bool aside = std::abs(bone.dot(body_.left)) > std::abs(bone.dot(body_.forward));
    const Vec3d raise = !stands ? body_.up : aside ? outward(j) : body_.forward;
    add(j, swing(bone, raise), body_.quadruped ? 25 : 60, Limb::Feet, part + " up");
    add(j, swing(bone, -raise), body_.quadruped ? 25 : 40, Limb::Feet, part + " down");
}

void Planner::feather(int j) {
    const Vec3d bone = boneDirection(c_, roles_, j);
    add(j, swing(bone, body_.up), 20, Limb::Arms, "feather up");
    add(j, swing(bone, -body_.up), 20, Limb::Arms, "feather down");
}

} // namespace hobble
