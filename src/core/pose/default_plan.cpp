// Limits are those of healthy adults in clinical goniometry (American Academy of Orthopaedic Surgeons 1965,
// "Joint Motion: Method of Measuring and Recording"; Norkin and White 2016, "Measurement of Joint Motion"),
// rounded to 5°. Those counted from a hanging arm or a straight limb are reduced by how the limb stands in
// neutral. A dog's are those of Jaegger, Marcellin-Little and Levine 2002, "Reliability of Goniometry in
// Labrador Retrievers", counted from a standing animal. Tails, ears, wings and the like have no such source:
// theirs are working values.
#include "core/character/body.h"
#include "core/character/hand.h"
#include "core/pose/closing_motion.h"
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
        : c_(c), roles_(roles), body_(bodyFrame(c, roles)), holds_(holdsSkin(c)) {}

    Plan make() {
        for (int j = 0; j < c_.skeleton.size(); ++j)
            if (roles_[j].movesSkin)
                plan(j);
        chain(Role::Spine, Limb::Trunk, "spine",
              body_.quadruped ? ChainLimits{35, 25, 30, 25} : ChainLimits{80, 30, 35, 45});
        chain(Role::Neck, Limb::Head, "neck", {40, 40, 40, 50});
        chain(Role::Tail, Limb::Tail, "tail", {60, 60, 90, 0});
        chain(Role::Trunk, Limb::Head, "trunk", {90, 90, 90, 0});
        for (const std::vector<int>& hanging : chainsOf(Role::Dangle))
            sway(hanging, c_.skeleton.name[hanging.front()], 30, false);
        for (const std::vector<int>& fin : chainsOf(Role::Fin))
            sway(fin, "fin", 40, false);
        std::stable_sort(plan_.motions.begin(), plan_.motions.end(),
                         [](const Motion& a, const Motion& b) { return a.limb < b.limb; });
        plan_.name = "full plan";
        return std::move(plan_);
    }

    /// Of one joint that no motion is planned for: by its shape alone.
    std::vector<Motion> byShape(int joint) {
        sway({joint}, c_.skeleton.name[joint], 45, true);
        return std::move(plan_.motions);
    }

private:
    struct ChainLimits {
        double front, back, side, turn;
    };

    const Character& c_;
    const std::vector<JointRole>& roles_;
    BodyFrame body_;
    std::vector<char> holds_; // per joint: skin of its own
    Plan plan_;
    std::map<std::string, int> ids_;

    Vec3d outward(int j) const { return roles_[j].side == Side::Right ? Vec3d(-body_.left) : body_.left; }

    static Vec3d swing(const Vec3d& from, const Vec3d& towards) {
        const Vec3d axis = from.cross(towards);
        return axis.norm() > 0.05 ? Vec3d(axis.normalized()) : Vec3d::Zero();
    }

    // Where a pose shows that the skin goes: from the joint to the middle of what it and what hangs below it
    // hold.
    Vec3d lever(int j) const {
        const auto in = c_.skeleton.subtree(j);
        Vec3d sum = Vec3d::Zero();
        double weight = 0;
        for (std::size_t v = 0; v < c_.vertexCount(); ++v)
            for (std::uint32_t i = c_.weights.first[v]; i < c_.weights.first[v + 1]; ++i)
                if (in[c_.weights.joint[i]]) {
                    sum += c_.weights.weight[i] * c_.neutral[v].cast<double>();
                    weight += c_.weights.weight[i];
                }
        return weight > 0 ? Vec3d(sum / weight - c_.skeleton.neutralWorld[j].translation()) : Vec3d::Zero();
    }

    // About an axis across the body, whichever way round brings the skin `towards`.
    Vec3d about(const Vec3d& axis, int j, const Vec3d& towards) const {
        return axis.cross(lever(j)).dot(towards) < 0 ? Vec3d(-axis) : axis;
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
        case Role::Scapula:
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
            return collarbone(j, "collarbone");
        case Role::Scapula:
            return collarbone(j, "scapula");
        case Role::Shoulder:
            return shoulder(j);
        case Role::Elbow:
            return bendAndStraighten(j, Limb::Arms, "elbow", body_.quadruped ? 120 : 150, body_.forward);
        case Role::Wrist:
            return wrist(j);
        case Role::Thumb:
        case Role::Finger:
            return finger(j);
        case Role::Palm:
            return palm(j);
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
        case Role::Feather:
            return feather(j);
        case Role::Horn: // stiff, but what it grows from is not
        case Role::Brow:
        case Role::Lip:
            return sway({j}, nameOf(roles_[j].role), 10, false);
        case Role::Prop:
            return sway({j}, c_.skeleton.name[j], 20, false);
        case Role::Unknown:
        case Role::Control:
            return unnamed(j);
        case Role::Root:
        case Role::Pelvis: // the base moves all; one with skin above it is a joint like any other
            return skinAbove(j) ? unnamed(j) : void();
        default:
            return; // chains are planned as one; twists and helpers follow others
        }
    }

    void collarbone(int j, const std::string& part) {
        const Vec3d bone = boneDirection(c_, roles_, j);
        if (!roles_[j].fore) { // a blade that a leg hangs from only glides along the ribs
            add(j, swing(bone, body_.up), 30, Limb::Arms, part + " up");
            add(j, swing(bone, -body_.up), 10, Limb::Arms, part + " down");
        }
        add(j, swing(bone, body_.forward), 20, Limb::Arms, part + " front");
        add(j, swing(bone, -body_.forward), 20, Limb::Arms, part + " back");
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
        const bool collarbone =
            above >= 0 && (roles_[above].role == Role::Collarbone || roles_[above].role == Role::Scapula);
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

    // Of the hand that a finger is of; the arm's last joint where no wrist is known.
    Hand handAbove(int j) const {
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

    // The hand's bones cup it: those of the ring and little finger give towards the palm, the others hardly.
    void palm(int j) {
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
        const Vec3d down = about(body_.left, j, -body_.up);
        add(j, down, 30, Limb::Head, "eye down");
        add(j, -down, 30, Limb::Head, "eye up");
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
        // what stands on its toes brings the whole foot forward
        const Vec3d raise = std::abs(bone.dot(body_.up)) > 0.85 ? body_.forward : body_.up;
        add(j, swing(bone, raise), 20, Limb::Legs, "ankle up");
        add(j, swing(bone, -raise), 50, Limb::Legs, "ankle down");
    }

    void toe(int j) {
        const JointRole& r = roles_[j];
        const Vec3d bone = boneDirection(c_, roles_, j);
        const std::string part = (r.digit > 1 ? "toe " + std::to_string(r.digit) : std::string("toes")) +
                                 (r.segment > 0 ? " tip" : "");
        // A hoof is a stiff toe on a short pastern and stands; a paw lies.
        const bool stands = bone.dot(body_.up) < (body_.quadruped ? -0.6 : -0.85);
        const Vec3d raise = stands ? body_.forward : body_.up;
        add(j, swing(bone, raise), body_.quadruped ? 25 : 60, Limb::Feet, part + " up");
        add(j, swing(bone, -raise), body_.quadruped ? 25 : 40, Limb::Feet, part + " down");
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

    // A jaw turns about the line between its hinges; where its skin lies says which way is open.
    void jaw(int j) {
        const Vec3d at = lever(j);
        // of two halves (a snake's, an insect's) each opens for itself
        if (at.norm() < 1e-9)
            return;
        const Vec3d flat = at - at.dot(body_.left) * body_.left;
        const bool hangs = flat.norm() > 1e-9 && flat.normalized().dot(-body_.up) > 0.9;
        add(j, about(body_.left, j, hangs ? Vec3d(-body_.forward) : Vec3d(-body_.up)), 30, Limb::Head,
            "jaw open");
    }

    // A lid turns about the line between the eye's corners; the upper one does most of a blink.
    void lid(int j) {
        const std::vector<std::string> words = wordsOf(c_.skeleton.name[j]);
        const bool lower = std::any_of(words.begin(), words.end(), [](const std::string& w) {
            return w == "lower" || w == "low" || w == "bottom" || w == "under";
        });
        add(j, about(lidAxis(c_, j, body_.left), j, lower ? body_.up : Vec3d(-body_.up)), lower ? 15 : 30,
            Limb::Head, lower ? "lower lid up" : "upper lid down");
    }

    void tongue(int j) {
        if (roles_[j].segment > 0)
            return; // planned with the first
        std::vector<int> chain{j};
        for (int k = j + 1; k < c_.skeleton.size(); ++k)
            if (c_.skeleton.parent[k] == chain.back() && roles_[k].role == Role::Tongue &&
                roles_[k].movesSkin)
                chain.push_back(k);
        const Vec3d down = about(body_.left, j, -body_.up);
        add(chain, -down, 40, Limb::Head, "tongue up", Side::Middle);
        add(chain, down, 40, Limb::Head, "tongue down", Side::Middle);
    }

    void feather(int j) {
        const Vec3d bone = boneDirection(c_, roles_, j);
        add(j, swing(bone, body_.up), 20, Limb::Arms, "feather up");
        add(j, swing(bone, -body_.up), 20, Limb::Arms, "feather down");
    }

    // Turning what everything hangs from moves the whole character and bends nothing.
    bool holdsAll(int j) const {
        const auto in = c_.skeleton.subtree(j);
        for (int k = 0; k < c_.skeleton.size(); ++k)
            if (roles_[k].movesSkin && !in[k] && !c_.skeleton.subtree(k)[j])
                return false;
        return true;
    }

    bool skinAbove(int j) const {
        for (int up = c_.skeleton.parent[j]; up >= 0; up = c_.skeleton.parent[up])
            if (holds_[up])
                return true;
        return false;
    }

    void unnamed(int j) {
        if (c_.skeleton.parent[j] < 0 && holdsAll(j))
            return;
        sway({j}, roles_[j].role == Role::Unknown ? c_.skeleton.name[j] : nameOf(roles_[j].role), 45, true);
    }

    // What nothing is known of is turned four ways and rolled; joints of a chain share it.
    void sway(const std::vector<int>& joints, const std::string& n, double limit, bool rolls) {
        const int j = joints.front();
        const Limb limb = limbOf(roles_[j].role);
        Vec3d bone = joints.size() > 1 ? chainDirection(joints) : boneDirection(c_, roles_, j);
        if (bone.norm() < 0.5) // it shows no way of its own
            bone = std::abs(body_.forward.norm()) > 0.5 ? body_.forward : Vec3d(Vec3d::UnitZ());
        Vec3d one = swing(bone, body_.forward);
        if (one.norm() < 0.5)
            one = swing(bone, body_.up);
        const double way = roles_[j].side == Side::Right ? -1 : 1; // a mirrored turn goes the other way about
        const Vec3d other = way * bone.cross(one).normalized();
        const bool ahead = std::abs(bone.dot(body_.forward)) > 0.998; // then the first way is up
        const Side side = roles_[j].side;
        add(joints, one, limit, limb, n + (ahead ? " bend up" : " bend front"), side);
        add(joints, -one, limit, limb, n + (ahead ? " bend down" : " bend back"), side);
        add(joints, other, limit, limb, n + " bend one side", side);
        add(joints, -other, limit, limb, n + " bend other side", side);
        if (rolls)
            add(joints, way * bone, limit, limb, n + " roll", side, true);
    }

    // From the first joint to where the last one's bone ends.
    Vec3d chainDirection(const std::vector<int>& joints) const {
        const Vec3d along = c_.skeleton.neutralWorld[joints.back()].translation() -
                            c_.skeleton.neutralWorld[joints.front()].translation();
        const Vec3d last = boneDirection(c_, roles_, joints.back());
        const double each = joints.size() > 1 ? along.norm() / static_cast<double>(joints.size() - 1) : 1;
        const Vec3d all = along + each * last;
        return all.norm() > 1e-9 ? Vec3d(all.normalized()) : Vec3d::Zero();
    }

    // Joints of a role that follow each other, whatever lies between them; where one forks, each goes on
    // alone.
    std::vector<std::vector<int>> chainsOf(Role role) const {
        std::vector<std::vector<int>> out;
        std::vector<int> chainOf(roles_.size(), -1);
        for (int j = 0; j < c_.skeleton.size(); ++j) {
            if (roles_[j].role != role || !roles_[j].movesSkin || c_.skeleton.parent[j] < 0)
                continue;
            int above = c_.skeleton.parent[j];
            while (above >= 0 && (roles_[above].role != role || roles_[above].side != roles_[j].side))
                above = c_.skeleton.parent[above];
            int own = above >= 0 ? chainOf[above] : -1;
            if (own < 0 || out[own].back() != above) {
                own = static_cast<int>(out.size());
                out.emplace_back();
            }
            out[own].push_back(j);
            chainOf[j] = own;
        }
        return out;
    }

    // Joints of one role that follow each other share the motion evenly.
    void chain(Role role, Limb limb, const std::string& part, const ChainLimits& limits) {
        for (const std::vector<int>& joints : chainsOf(role)) {
            if (roles_[joints.front()].side != Side::Middle) {
                sway(joints, part, limits.side, false);
                continue;
            }
            const Vec3d along = chainDirection(joints);
            const bool level = std::abs(along.dot(body_.up)) < 0.5;
            // A chain that lies level (a quadruped's spine, a tail) turns about up and sways; an upright one
            // the reverse. Which way round brings its tip down depends on where that lies.
            const Vec3d forth = level ? Vec3d(-body_.up) : body_.forward;
            const Vec3d front = body_.left.cross(along).dot(forth) < 0 ? Vec3d(-body_.left) : body_.left;
            const Vec3d across = level ? Vec3d(-body_.up) : body_.forward;
            const Vec3d sway = across.cross(along).dot(-body_.left) < 0 ? Vec3d(-across) : across;
            const Vec3d twist = level ? body_.forward : Vec3d(-body_.up);
            add(joints, front, limits.front, limb, part + (level ? " down" : " front"), Side::Middle);
            add(joints, -front, limits.back, limb, part + (level ? " up" : " back"), Side::Middle);
            add(joints, -sway, limits.side, limb, part + " side", Side::Left);
            add(joints, sway, limits.side, limb, part + " side", Side::Right);
            add(joints, -twist, limits.turn, limb, part + " twist", Side::Left, true);
            add(joints, twist, limits.turn, limb, part + " twist", Side::Right, true);
        }
    }
};

} // namespace

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
