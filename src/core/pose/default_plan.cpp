// Limits are those of healthy adults in clinical goniometry (American Academy of Orthopaedic Surgeons 1965,
// "Joint Motion: Method of Measuring and Recording"; Norkin and White 2016, "Measurement of Joint Motion"),
// rounded to 5°. Those counted from a hanging arm or a straight limb are reduced by how the limb stands in
// neutral. A dog's are those of Jaegger, Marcellin-Little and Levine 2002, "Reliability of Goniometry in
// Labrador Retrievers", counted from a standing animal. Tails, ears, wings and the like have no such source:
// theirs are working values.
#include "core/character/body.h"
#include "core/pose/compound_poses.h"
#include "core/pose/motion.h"
#include "core/pose/shape_motions.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace hobble {

namespace {

class Planner {
public:
    Planner(const Character& c, const std::vector<JointRole>& roles)
        : c_(c), roles_(roles), body_(bodyFrame(c, roles)) {}

    Plan make() {
        for (int j = 0; j < c_.skeleton.size(); ++j)
            if (roles_[j].movesSkin)
                plan(j);
        chain(Role::Spine, Limb::Trunk, "spine",
              body_.quadruped ? ChainLimits{35, 25, 30, 25} : ChainLimits{80, 30, 35, 45});
        chain(Role::Neck, Limb::Head, "neck", {40, 40, 40, 50});
        chain(Role::Tail, Limb::Tail, "tail", {60, 60, 90, 0});
        std::stable_sort(plan_.motions.begin(), plan_.motions.end(),
                         [](const Motion& a, const Motion& b) { return a.limb < b.limb; });
        plan_.name = "full plan";
        return std::move(plan_);
    }

private:
    struct ChainLimits {
        double front, back, side, turn;
    };

    const Character& c_;
    const std::vector<JointRole>& roles_;
    BodyFrame body_;
    Plan plan_;
    std::map<std::string, int> ids_;

    Vec3d outward(int j) const { return roles_[j].side == Side::Right ? Vec3d(-body_.left) : body_.left; }

    static Vec3d swing(const Vec3d& from, const Vec3d& towards) {
        const Vec3d axis = from.cross(towards);
        return axis.norm() > 0.05 ? Vec3d(axis.normalized()) : Vec3d::Zero();
    }

    Vec3d toOwnFrame(int j, const Vec3d& worldAxis) const {
        return rotationOf(c_.skeleton.neutralWorld[j]).inverse() * worldAxis;
    }

    void add(const std::vector<int>& joints, const Vec3d& worldAxis, double limit, Limb limb,
             const std::string& name, Side side, bool roll = false) {
        if (worldAxis.norm() < 0.5 || limit < 5)
            return;
        Motion m;
        m.name = name;
        m.limb = limb;
        m.side = side;
        m.role = roles_[joints.front()].role;
        m.roll = roll;
        for (int j : joints)
            m.turns.push_back({j, toOwnFrame(j, worldAxis), 1.0 / static_cast<double>(joints.size())});
        m.source = sourceOf(m.role);
        m.steps = stepsTo(std::round(limit));
        m.id = (side == Side::Middle ? "" : std::string(nameOf(side)) + "-") + name;
        std::replace(m.id.begin(), m.id.end(), ' ', '-');
        if (const int n = ++ids_[m.id]; n > 1)
            m.id += "-" + std::to_string(n);
        plan_.motions.push_back(std::move(m));
    }

    const char* sourceOf(Role role) const {
        switch (role) {
        case Role::Shoulder:
        case Role::Elbow:
        case Role::Wrist:
        case Role::Hip:
        case Role::Knee:
        case Role::Ankle:
            return body_.quadruped          ? "Jaegger 2002"
                   : role == Role::Shoulder ? "AAOS 1965, Inman 1944"
                                            : "AAOS 1965";
        case Role::Collarbone:
        case Role::Thumb:
        case Role::Finger:
        case Role::Toe:
        case Role::Spine:
        case Role::Neck:
        case Role::Head:
        case Role::Jaw:
            return body_.quadruped ? "working value" : "Norkin and White 2016";
        default:
            return "working value";
        }
    }

    void add(int joint, const Vec3d& worldAxis, double limit, Limb limb, const std::string& name,
             bool roll = false) {
        add(std::vector<int>{joint}, worldAxis, limit, limb, name, roles_[joint].side, roll);
    }

    // The axis that closes a hinge. A limb clearly bent in neutral shows it; one that is nearly straight is
    // trusted only where it agrees with what the joint's role and the way the body faces say.
    Vec3d hinge(int j, const Vec3d& towards, double& bentDegrees) const {
        Vec3d shown;
        const double bend = degrees(neutralBend(c_, roles_, j, shown));
        const Vec3d expected = swing(boneDirection(c_, roles_, j), towards);
        const bool trust = bend > 15 || (bend > 3 && shown.dot(expected) > 0.3) || expected.norm() < 0.5;
        bentDegrees = trust ? bend : 0;
        return trust && shown.norm() > 0.5 ? shown : expected;
    }

    void plan(int j) {
        switch (roles_[j].role) {
        case Role::Collarbone:
            return collarbone(j);
        case Role::Shoulder:
            return shoulder(j);
        case Role::Elbow:
            return bendAndStraighten(j, Limb::Arms, "elbow", body_.quadruped ? 120 : 150, body_.forward);
        case Role::Wrist:
            return wrist(j);
        case Role::Thumb:
        case Role::Finger:
            return finger(j);
        case Role::Hip:
            return hip(j);
        case Role::Knee:
            return bendAndStraighten(j, Limb::Legs, "knee", body_.quadruped ? 125 : 140, -body_.forward);
        case Role::Ankle:
            return ankle(j);
        case Role::Toe:
            return toe(j);
        case Role::Head:
            return head(j);
        case Role::Jaw:
            return jaw(j);
        case Role::Lid:
            return lid(j);
        case Role::Tongue:
            return tongue(j);
        case Role::Eye:
            return eye(j);
        case Role::Ear:
            return ear(j);
        case Role::Wing:
            return wing(j);
        case Role::Fetlock:
            return fetlock(j);
        case Role::Unknown:
            return unnamed(j);
        default:
            return; // chains are planned as one; twists, helpers and controls follow others; the rest comes
                    // later
        }
    }

    void collarbone(int j) {
        const Vec3d bone = boneDirection(c_, roles_, j);
        add(j, swing(bone, body_.up), 30, Limb::Arms, "collarbone up");
        add(j, swing(bone, -body_.up), 10, Limb::Arms, "collarbone down");
        add(j, swing(bone, body_.forward), 20, Limb::Arms, "collarbone front");
        add(j, swing(bone, -body_.forward), 20, Limb::Arms, "collarbone back");
    }

    void rolls(int j, double in, double out, Limb limb, const std::string& part) {
        Vec3d bone = boneDirection(c_, roles_, j);
        if (roles_[j].side == Side::Right)
            bone = -bone; // a mirrored roll turns the other way about its own bone
        add(j, bone, in, limb, part + " roll in", true);
        add(j, -bone, out, limb, part + " roll out", true);
    }

    void shoulder(int j) {
        const Vec3d bone = boneDirection(c_, roles_, j);
        if (body_.quadruped) {
            add(j, swing(bone, body_.forward), 40, Limb::Arms, "shoulder front");
            add(j, swing(bone, -body_.forward), 35, Limb::Arms, "shoulder back");
            add(j, swing(bone, outward(j)), 25, Limb::Arms, "shoulder out");
            return;
        }
        // Of the 180° an arm can be raised, the shoulder joint gives 120; the collarbone's rhythm gives the
        // rest, where there is one to give it (Inman, Saunders and Abbott 1944, "Observations on the Function
        // of the Shoulder Joint").
        const int above = c_.skeleton.parent[j];
        const bool collarbone = above >= 0 && roles_[above].role == Role::Collarbone;
        const double most = collarbone ? 120 : 180;
        // How far the arm is already raised sideways in neutral: 0 hanging, 90 in a T.
        const double raised = degrees(std::acos(std::clamp(bone.dot(-body_.up), -1.0, 1.0)));
        const Vec3d raise = outward(j).cross(body_.up).normalized();
        add(j, raise, std::max(most - raised, 20.0), Limb::Arms, "shoulder raise");
        add(j, -raise, raised, Limb::Arms, "shoulder lower");
        add(j, swing(bone, body_.forward), raised > 45 || collarbone ? 120 : 170, Limb::Arms,
            "shoulder front");
        add(j, swing(bone, -body_.forward), raised > 45 ? 40 : 50, Limb::Arms, "shoulder back");
        rolls(j, 70, 90, Limb::Arms, "shoulder");
    }

    void bendAndStraighten(int j, Limb limb, const std::string& part, double limit, const Vec3d& towards) {
        double bent = 0;
        const Vec3d axis = hinge(j, towards, bent);
        add(j, axis, std::max(limit - bent, 20.0), limb, part + " flex");
        if (bent >= 15)
            add(j, -axis, body_.quadruped ? 0.6 * bent : bent, limb, part + " straighten");
    }

    void wrist(int j) {
        const Vec3d bone = boneDirection(c_, roles_, j), palm = palmDirection(c_, roles_, body_, j);
        // A fore limb's wrist, the carpus, hardly gives backwards.
        add(j, swing(bone, palm), body_.quadruped ? 65 : 80, Limb::Arms, "wrist bend in");
        add(j, swing(bone, -palm), body_.quadruped ? 10 : 70, Limb::Arms, "wrist bend back");
        if (!body_.quadruped)
            rolls(j, 80, 80, Limb::Arms, "wrist");
    }

    void finger(int j) {
        int wrist = c_.skeleton.parent[j];
        while (wrist >= 0 && roles_[wrist].role != Role::Wrist)
            wrist = c_.skeleton.parent[wrist];
        const JointRole& r = roles_[j];
        const bool thumb = r.role == Role::Thumb;
        static const char* segments[] = {"base", "middle", "tip"};
        const std::string part = (thumb ? std::string("thumb") : "finger " + std::to_string(r.digit)) + " " +
                                 segments[std::min(r.segment, 2)];
        const double limit = thumb ? (r.segment == 0   ? 50
                                      : r.segment == 1 ? 55
                                                       : 80)
                                   : (r.segment == 0   ? 90
                                      : r.segment == 1 ? 100
                                                       : 70);
        double bent = 0;
        const Vec3d palm = wrist >= 0 ? palmDirection(c_, roles_, body_, wrist) : Vec3d(-body_.up);
        Vec3d towards = palm;
        if (thumb && wrist >= 0) // a thumb closes across the palm, towards the fingers
            towards =
                palm + boneDirection(c_, roles_, wrist).cross(palm) * (r.side == Side::Right ? 1.0 : -1.0);
        const Vec3d axis = hinge(j, towards, bent);
        add(j, axis, std::max(limit - bent, 20.0), Limb::Hands, part + " curl");
        if (r.segment == 0 && !thumb)
            spread(j, wrist, palm, part);
    }

    // Fingers part from the hand's middle; the one that lies along it has nowhere to part to.
    void spread(int j, int wrist, const Vec3d& palm, const std::string& part) {
        if (wrist < 0 || palm.norm() < 0.5)
            return;
        const Vec3d middle = boneDirection(c_, roles_, wrist);
        const Vec3d root = c_.skeleton.neutralWorld[j].translation();
        const Vec3d hand = c_.skeleton.neutralWorld[wrist].translation();
        const Vec3d across = palm.cross(middle);
        double sum = 0, all = 0, widest = 0; // where the fingers' roots lie across the hand
        for (int k = 0; k < c_.skeleton.size(); ++k)
            if (roles_[k].role == Role::Finger && roles_[k].segment == 0 &&
                roles_[k].side == roles_[j].side) {
                const double at = (c_.skeleton.neutralWorld[k].translation() - hand).dot(across);
                sum += at;
                ++all;
                widest =
                    std::max(widest, std::abs((c_.skeleton.neutralWorld[k].translation() - root).norm()));
            }
        const double off = (root - hand).dot(across) - sum / all;
        if (all < 2 || std::abs(off) < 0.1 * widest)
            return;
        add(j, swing(boneDirection(c_, roles_, j), off > 0 ? across : Vec3d(-across)), 20, Limb::Hands,
            part + " spread");
    }

    // Nothing of the eye bends; the lids around it may follow.
    void eye(int j) {
        add(j, body_.left, 30, Limb::Head, "eye down");
        add(j, -body_.left, 30, Limb::Head, "eye up");
        add(j, body_.up * (roles_[j].side == Side::Right ? -1.0 : 1.0), 35, Limb::Head, "eye out");
        add(j, body_.up * (roles_[j].side == Side::Right ? 1.0 : -1.0), 35, Limb::Head, "eye in");
    }

    void ear(int j) {
        const Vec3d bone = boneDirection(c_, roles_, j);
        const std::string part = roles_[j].segment > 0 ? "ear tip" : "ear";
        add(j, swing(bone, body_.forward), 40, Limb::Head, part + " front");
        add(j, swing(bone, -body_.forward), 50, Limb::Head, part + " back");
        add(j, swing(bone, outward(j)), 40, Limb::Head, part + " out");
        if (roles_[j].segment == 0)
            rolls(j, 40, 40, Limb::Head, part);
    }

    // A wing beats at its root and folds at its further joints.
    void wing(int j) {
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

    void fetlock(int j) {
        const Vec3d bone = boneDirection(c_, roles_, j);
        add(j, swing(bone, -body_.forward), 70, Limb::Legs, "fetlock flex");
        add(j, swing(bone, body_.forward), 30, Limb::Legs, "fetlock straighten");
    }

    void hip(int j) {
        const Vec3d bone = boneDirection(c_, roles_, j);
        const bool quad = body_.quadruped;
        add(j, swing(bone, body_.forward), quad ? 30 : 120, Limb::Legs, "hip front");
        add(j, swing(bone, -body_.forward), quad ? 35 : 30, Limb::Legs, "hip back");
        add(j, swing(bone, outward(j)), quad ? 25 : 45, Limb::Legs, "hip out");
        if (!quad) {
            add(j, swing(bone, -outward(j)), 25, Limb::Legs, "hip in");
            rolls(j, 40, 45, Limb::Legs, "hip");
        }
    }

    void ankle(int j) {
        const Vec3d bone = boneDirection(c_, roles_, j);
        if (body_.quadruped) {
            double bent = 0;
            const Vec3d axis = hinge(j, body_.forward, bent);
            add(j, axis, 60, Limb::Legs, "hock flex");
            add(j, -axis, std::min(bent, 40.0), Limb::Legs, "hock straighten");
            return;
        }
        add(j, swing(bone, body_.up), 20, Limb::Legs, "ankle up");
        add(j, swing(bone, -body_.up), 50, Limb::Legs, "ankle down");
    }

    void toe(int j) {
        const JointRole& r = roles_[j];
        const Vec3d bone = boneDirection(c_, roles_, j);
        const std::string part = (r.digit > 1 ? "toe " + std::to_string(r.digit) : std::string("toes")) +
                                 (r.segment > 0 ? " tip" : "");
        // A hoof is a stiff toe on a short pastern.
        add(j, swing(bone, body_.quadruped ? body_.forward : body_.up), body_.quadruped ? 25 : 60, Limb::Feet,
            part + " up");
        add(j, swing(bone, body_.quadruped ? Vec3d(-body_.forward) : Vec3d(-body_.up)),
            body_.quadruped ? 25 : 40, Limb::Feet, part + " down");
    }

    void head(int j) {
        const std::vector<int> one{j};
        add(one, body_.left, 30, Limb::Head, "head nod", Side::Middle);
        add(one, -body_.left, 30, Limb::Head, "head back", Side::Middle);
        add(one, -body_.forward, 25, Limb::Head, "head tilt", Side::Left);
        add(one, body_.forward, 25, Limb::Head, "head tilt", Side::Right);
        add(one, body_.up, 50, Limb::Head, "head turn", Side::Left);
        add(one, -body_.up, 50, Limb::Head, "head turn", Side::Right);
    }

    void jaw(int j) {
        Vec3d bone = boneDirection(c_, roles_, j);
        if (bone.norm() < 0.5)
            bone = body_.forward;
        add(j, swing(bone, -body_.up), 30, Limb::Head, "jaw open");
    }

    // A lid turns about the line between the eye's corners; the upper one does most of a blink.
    void lid(int j) {
        const std::vector<std::string> words = wordsOf(c_.skeleton.name[j]);
        const bool lower = std::any_of(words.begin(), words.end(), [](const std::string& w) {
            return w == "lower" || w == "low" || w == "bottom" || w == "under";
        });
        add(j, lower ? Vec3d(-body_.left) : body_.left, lower ? 15 : 30, Limb::Head,
            lower ? "lower lid up" : "upper lid down");
    }

    void tongue(int j) {
        if (roles_[j].segment > 0)
            return; // planned with the first
        std::vector<int> chain{j};
        for (int k = j + 1; k < c_.skeleton.size(); ++k)
            if (c_.skeleton.parent[k] == chain.back() && roles_[k].role == Role::Tongue &&
                roles_[k].movesSkin)
                chain.push_back(k);
        add(chain, -body_.left, 40, Limb::Head, "tongue up", Side::Middle);
        add(chain, body_.left, 40, Limb::Head, "tongue down", Side::Middle);
    }

    void unnamed(int j) {
        if (c_.skeleton.parent[j] < 0)
            return; // turning a root moves the whole character and bends nothing
        const Vec3d bone = boneDirection(c_, roles_, j);
        if (bone.norm() < 0.5)
            return;
        Vec3d one = swing(bone, body_.forward);
        if (one.norm() < 0.5)
            one = swing(bone, body_.up);
        const double way = roles_[j].side == Side::Right ? -1 : 1; // a mirrored turn goes the other way about
        const Vec3d other = way * bone.cross(one).normalized();
        const std::string n = roles_[j].role == Role::Unknown ? c_.skeleton.name[j] : nameOf(roles_[j].role);
        add(j, one, 45, Limb::Other, n + " bend front");
        add(j, -one, 45, Limb::Other, n + " bend back");
        add(j, other, 45, Limb::Other, n + " bend one side");
        add(j, -other, 45, Limb::Other, n + " bend other side");
        add(j, way * bone, 45, Limb::Other, n + " roll", true);
    }

    // Joints of one role that follow each other share the motion evenly.
    void chain(Role role, Limb limb, const std::string& part, const ChainLimits& limits) {
        std::vector<int> joints;
        for (int j = 0; j < c_.skeleton.size(); ++j)
            if (roles_[j].role == role && roles_[j].movesSkin && roles_[j].side == Side::Middle &&
                c_.skeleton.parent[j] >= 0)
                joints.push_back(j);
        if (joints.empty())
            return;
        const bool level = std::abs(boneDirection(c_, roles_, joints.front()).dot(body_.up)) < 0.5;
        // A chain that lies level (a quadruped's spine, a tail) turns about up and sways; an upright one the
        // reverse.
        const Vec3d sway = level ? Vec3d(-body_.up) : body_.forward,
                    twist = level ? body_.forward : Vec3d(-body_.up);
        add(joints, body_.left, limits.front, limb, part + (level ? " down" : " front"), Side::Middle);
        add(joints, -body_.left, limits.back, limb, part + (level ? " up" : " back"), Side::Middle);
        add(joints, -sway, limits.side, limb, part + " side", Side::Left);
        add(joints, sway, limits.side, limb, part + " side", Side::Right);
        add(joints, -twist, limits.turn, limb, part + " twist", Side::Left, true);
        add(joints, twist, limits.turn, limb, part + " twist", Side::Right, true);
    }
};

} // namespace

Plan defaultPlan(const Character& character, const std::vector<JointRole>& roles) {
    return Planner(character, roles).make();
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
