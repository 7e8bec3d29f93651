#include "core/pose/compound_poses.h"

#include "core/character/body.h"
#include "core/pose/closing_motion.h"
#include "core/pose/shape_motions.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

enum class Which { Both, Here, There }; // both sides; the pose's own; the other one
enum class Body { Any, Biped, Quadruped };

// A lid goes until it meets what lies opposite; the upper one makes two thirds of a blink.
constexpr double kUntilClosed = -1;
constexpr double kOfTheUpper = 2.0 / 3;

struct Ask {
    const char* motion; // a name of the plan; "finger * curl": every finger's
    double degrees;     // never more than the motion's own range, unless until it closes
    Which which = Which::Both;
};

struct Compound {
    const char* name;
    bool sided; // one for the left, one for the right
    Body body;
    std::vector<Ask> asks;                // the first must be there, and leads
    std::vector<std::string> shapes = {}; // words of shape targets that join in
};

const std::vector<Compound>& compounds() {
    using W = Which;
    static const std::vector<Compound> all{
        {"sit", false, Body::Biped, {{"hip front", 100}, {"knee flex", 90}, {"spine front", 45}}},
        {"deep crouch",
         false,
         Body::Biped,
         {{"hip front", 115}, {"knee flex", 130}, {"ankle up", 20}, {"spine front", 40}, {"neck back", 20}}},
        {"lunge",
         true,
         Body::Biped,
         {{"hip front", 80, W::Here},
          {"knee flex", 80, W::Here},
          {"hip back", 25, W::There},
          {"knee flex", 35, W::There},
          {"toes up", 40, W::There}}},
        {"leg high with knee bent",
         true,
         Body::Biped,
         {{"hip front", 115, W::Here}, {"knee flex", 125, W::Here}, {"spine front", 15}}},
        {"leg back",
         true,
         Body::Any,
         {{"hip back", 30, W::Here}, {"knee flex", 40, W::Here}, {"spine back", 10}}},
        {"arms overhead",
         false,
         Body::Biped,
         {{"shoulder raise", 120}, {"collarbone up", 30}, {"spine back", 10}, {"head back", 10}}},
        {"arms crossed",
         false,
         Body::Biped,
         {{"shoulder front", 70}, {"shoulder roll in", 30}, {"elbow flex", 110}, {"collarbone front", 15}}},
        {"reach across",
         true,
         Body::Biped,
         {{"shoulder front", 110, W::Here},
          {"collarbone front", 20, W::Here},
          {"elbow flex", 20, W::Here},
          {"spine twist", 25, W::There},
          {"head turn", 20, W::There}}},
        {"body twist",
         true,
         Body::Any,
         {{"spine twist", 45, W::Here}, {"neck twist", 30, W::Here}, {"head turn", 25, W::Here}}},
        {"side bend",
         true,
         Body::Any,
         {{"spine side", 35, W::Here}, {"neck side", 25, W::Here}, {"head tilt", 15, W::Here}}},
        {"jaw open with head up", false, Body::Any, {{"neck back", 40}, {"head back", 30}, {"jaw open", 30}}},
        {"fist",
         true,
         Body::Any,
         {{"finger * curl", 95, W::Here}, {"thumb * curl", 45, W::Here}, {"wrist bend back", 20, W::Here}}},
        {"splay", true, Body::Any, {{"finger * spread", 20, W::Here}, {"wrist bend back", 15, W::Here}}},
        {"on all fours",
         false,
         Body::Biped,
         {{"hip front", 90},
          {"knee flex", 90},
          {"shoulder front", 90},
          {"wrist bend back", 70},
          {"neck back", 30},
          {"head back", 20}}},
        {"tail curl", true, Body::Any, {{"tail side", 90, W::Here}, {"tail up", 30}, {"tail back", 30}}},
        {"squint with smile",
         false,
         Body::Any,
         {{"upper lid down", 16}, {"lower lid up", 12}, {"jaw open", 4}},
         {"smile", "squint", "grin"}},
        {"blink", false, Body::Any, {{"upper lid down", kUntilClosed}, {"lower lid up", kUntilClosed}}},
        {"sit down", // on the hind legs
         false,
         Body::Quadruped,
         {{"hip front", 30}, {"knee flex", 90}, {"hock flex", 55}, {"spine up", 10}, {"neck up", 20}}},
        {"bow",
         false,
         Body::Quadruped,
         {{"elbow flex", 90}, {"shoulder front", 35}, {"wrist bend back", 10}, {"neck up", 35}}},
        {"lie",
         false,
         Body::Quadruped,
         {{"knee flex", 110},
          {"hip front", 30},
          {"hock flex", 60},
          {"elbow flex", 110},
          {"shoulder back", 20}}},
        {"gather", // hind and fore legs under the body, as in a leap
         false,
         Body::Quadruped,
         {{"hip front", 30}, {"shoulder back", 35}, {"spine up", 25}, {"knee flex", 40}, {"neck down", 20}}},
        {"wings folded",
         false,
         Body::Any,
         {{"wing middle fold", 110}, {"wing root fold", 50}, {"wing tip fold", 100}}},
        {"wings spread",
         false,
         Body::Any,
         {{"wing root up", 60}, {"wing root sweep", 30}, {"wing middle sweep", 20}}},
    };
    return all;
}

// "finger * curl" stands for every finger's, "thumb * curl" for whatever comes between.
bool fits(const Motion& motion, const std::string& asked) {
    const std::string name = motion.role == Role::Finger ? "finger " + motion.name : motion.name;
    const auto star = asked.find('*');
    if (star == std::string::npos)
        return name == asked;
    const std::string head = asked.substr(0, star), tail = asked.substr(star + 1);
    return name.size() >= head.size() + tail.size() && name.compare(0, head.size(), head) == 0 &&
           name.compare(name.size() - tail.size(), tail.size(), tail) == 0;
}

Side otherOf(Side side) { return side == Side::Left ? Side::Right : side == Side::Right ? Side::Left : side; }

// Degrees of a lid's motion in a blink; its own range where it cannot be told when it closes.
double untilClosed(const Character& c, const Plan& singles, const Motion& lid) {
    constexpr double atMost = 120;
    const double whole = degreesToClose(c, lid.turns.front());
    if (whole <= 0 || whole > atMost)
        return lid.limit();
    const bool upper = lid.name == "upper lid down";
    const bool shared = std::any_of(singles.motions.begin(), singles.motions.end(), [&](const Motion& m) {
        return m.role == Role::Lid && m.side == lid.side && m.name != lid.name;
    });
    return !shared ? whole : whole * (upper ? kOfTheUpper : 1 - kOfTheUpper);
}

std::string idOf(const std::string& name, Side side) {
    std::string id = "pose-" + (side == Side::Middle ? "" : std::string(nameOf(side)) + "-") + name;
    std::replace(id.begin(), id.end(), ' ', '-');
    return id;
}

// The one joint everything hangs on; −1 where there are several.
int onlyRoot(const Skeleton& sk) {
    int root = -1;
    for (int j = 0; j < sk.size(); ++j)
        if (sk.parent[j] < 0) {
            if (root >= 0)
                return -1;
            root = j;
        }
    return root;
}

} // namespace

Motion poseMotion(const Skeleton& sk, const std::string& id, const std::string& name, Side side,
                  const Pose& pose, int leads) {
    Motion m;
    m.id = id;
    m.name = name;
    m.limb = Limb::Poses;
    m.side = side;
    m.span = Span::Percent;
    for (int j = 0; j < sk.size(); ++j) {
        const Eigen::AngleAxisd turn(pose.turn[static_cast<std::size_t>(j)].normalized());
        double angle = turn.angle();
        Vec3d axis = turn.axis();
        if (angle > M_PI) {
            angle = 2 * M_PI - angle;
            axis = -axis;
        }
        if (angle > radians(0.05))
            m.turns.push_back({j, axis, degrees(angle) / 100});
        if (!pose.shift.empty() && pose.shift[static_cast<std::size_t>(j)].norm() > 1e-6)
            m.shifts.push_back({j, pose.shift[static_cast<std::size_t>(j)] / 100});
    }
    for (const TargetWeight& t : pose.targets)
        m.targets.push_back({t.part, t.target, t.weight / 100});
    std::stable_sort(m.turns.begin(), m.turns.end(), [&](const JointTurn& a, const JointTurn& b) {
        return (a.joint == leads) != (b.joint == leads) ? a.joint == leads : a.share > b.share;
    });
    // what moves as a whole is measured as such, and led by what bends
    for (const JointShift& s : m.shifts)
        if (std::none_of(m.turns.begin(), m.turns.end(),
                         [&](const JointTurn& t) { return t.joint == s.joint; }))
            m.turns.push_back({s.joint, Vec3d::UnitX(), 0});
    m.steps = {0, 20, 40, 60, 80, 100, 0};
    return m;
}

double liftOfFeet(const Character& c, const std::vector<JointRole>& roles, const Vec3d& up,
                  const Pose& pose) {
    const auto world = worldTransforms(c.skeleton, pose);
    double stood = INFINITY, stands = INFINITY;
    for (int j = 0; j < c.skeleton.size(); ++j) {
        const Role r = roles[static_cast<std::size_t>(j)].role;
        if (r != Role::Toe && r != Role::Ankle && r != Role::Fetlock &&
            !(r == Role::Wrist && roles[static_cast<std::size_t>(j)].fore))
            continue;
        const auto at = static_cast<std::size_t>(j);
        stood = std::min(stood, c.skeleton.neutralWorld[at].translation().dot(up));
        stands = std::min(stands, world[at].translation().dot(up));
    }
    return std::isfinite(stood) ? stands - stood : 0;
}

std::vector<Motion> compoundPoses(const Character& c, const std::vector<JointRole>& roles,
                                  const Plan& singles) {
    const BodyFrame body = bodyFrame(c, roles);
    const int root = onlyRoot(c.skeleton);
    std::vector<Motion> out;
    for (const Compound& compound : compounds()) {
        if (compound.body != Body::Any && (compound.body == Body::Quadruped) != body.quadruped)
            continue;
        for (Side side :
             compound.sided ? std::vector<Side>{Side::Left, Side::Right} : std::vector<Side>{Side::Middle}) {
            Pose pose = Pose::neutral(c.skeleton);
            int leads = -1;
            Role role = Role::Unknown;
            bool sound = true;
            for (const Ask& ask : compound.asks) {
                for (const Motion& m : singles.motions) {
                    const bool here = ask.which == Which::Both || m.side == Side::Middle
                                          ? true
                                          : m.side == (ask.which == Which::Here ? side : otherOf(side));
                    if (!here || !fits(m, ask.motion))
                        continue;
                    const double degrees = ask.degrees == kUntilClosed ? untilClosed(c, singles, m)
                                                                       : std::min(ask.degrees, m.limit());
                    const Pose one = poseAt(c.skeleton, m, degrees);
                    for (std::size_t j = 0; j < pose.turn.size(); ++j)
                        pose.turn[j] = pose.turn[j] * one.turn[j];
                    if (leads < 0) {
                        leads = m.turns.front().joint;
                        role = m.role;
                    }
                }
                sound &= leads >= 0;
                if (!sound)
                    break;
            }
            for (const std::string& word : compound.shapes)
                for (const TargetWeight& t : targetsCalled(c, word)) {
                    pose.targets.push_back(t);
                    sound |= true;
                    if (leads < 0)
                        leads = jointOfTarget(c, t.part, t.target);
                }
            if (!sound || leads < 0)
                continue;
            if (root >= 0) {
                const double lift = liftOfFeet(c, roles, body.up, pose);
                if (std::abs(lift) > 0.002 * body.height) {
                    pose.shift.assign(pose.turn.size(), Vec3d::Zero());
                    pose.shift[static_cast<std::size_t>(root)] =
                        rotationOf(c.skeleton.neutralWorld[static_cast<std::size_t>(root)]).inverse() *
                        Vec3d(-lift * body.up);
                }
            }
            Motion m = poseMotion(c.skeleton, idOf(compound.name, side), compound.name, side, pose, leads);
            if (m.turns.empty())
                m.turns.push_back({leads, Vec3d::UnitX(), 0});
            m.role = role;
            m.source = "compound pose";
            out.push_back(std::move(m));
        }
    }
    return out;
}

} // namespace hobble
