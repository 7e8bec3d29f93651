#include "core/character/body.h"

#include "core/character/hand.h"
#include "core/disjoint_sets.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace hobble {

namespace {

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

// What hangs on a limb without being any of it.
bool besideLimb(Role r) {
    return r == Role::Twist || r == Role::Helper || r == Role::Control || r == Role::Prop ||
           r == Role::Dangle || r == Role::Feather || r == Role::Fin || r == Role::Horn;
}

// Whether a joint of one role is the next of a limb or of the trunk after one of another.
bool goesOn(Role from, Role to) {
    if (from == to)
        return true;
    switch (from) {
    case Role::Pelvis:
        return to == Role::Spine;
    case Role::Spine:
        return to == Role::Neck || to == Role::Head;
    case Role::Neck:
        return to == Role::Head;
    case Role::Collarbone:
    case Role::Scapula:
        return to == Role::Shoulder;
    case Role::Shoulder:
        return to == Role::Elbow;
    case Role::Elbow:
        return to == Role::Wrist;
    case Role::Hip:
        return to == Role::Knee;
    case Role::Knee:
        return to == Role::Ankle;
    default:
        return false;
    }
}

// What legs stand on is what arms are planted on as well: told by how far down they reach, of what legs do.
bool handsOnGround(const Character& c, const std::vector<JointRole>& roles, const Vec3d& up) {
    double hands = -1e300, feet = -1e300, top = -1e300;
    for (int j = 0; j < c.skeleton.size(); ++j) {
        const double down = -c.skeleton.place(j).dot(up);
        if (roles[j].role == Role::Wrist)
            hands = std::max(hands, down);
        if (roles[j].role == Role::Ankle)
            feet = std::max(feet, down);
        if (roles[j].role == Role::Hip)
            top = std::max(top, down);
    }
    if (feet < -1e299 || top < -1e299)
        return true; // no arms to tell: a trunk that lies level stands on four
    return hands > -1e299 ? hands > top + 0.6 * (feet - top) : true;
}

double lengthUpTo(const Character& c, int joint, int top) {
    double length = 0;
    for (int j = joint; j >= 0 && j != top; j = c.skeleton.parent[j])
        if (c.skeleton.parent[j] >= 0)
            length += (c.skeleton.place(j) - c.skeleton.place(c.skeleton.parent[j])).norm();
    return length;
}

// How far up the body's own skin reaches, without what it carries or spreads; and, where it does not stand,
// as far as its bones would.
double heightOf(const Character& c, const std::vector<JointRole>& roles, const BodyFrame& body) {
    const auto notBody = [](Role r) {
        return r == Role::Prop || r == Role::Dangle || r == Role::Wing || r == Role::Feather;
    };
    const bool some = std::any_of(roles.begin(), roles.end(), [&](const JointRole& r) {
        return r.movesSkin && !notBody(r.role) && r.role != Role::Root && r.role != Role::Unknown;
    });
    double low = 1e300, high = -1e300;
    for (std::size_t v = 0; v < c.neutral.size(); ++v) {
        const std::uint32_t first = c.weights.first[v]; // the heaviest
        if (some && first < c.weights.first[v + 1] && notBody(roles[c.weights.joint[first]].role))
            continue;
        const double h = body.up.dot(c.neutral[v].cast<double>());
        low = std::min(low, h);
        high = std::max(high, h);
    }
    const double box = high > low ? high - low : 0;
    // Legs, and above them the trunk and the head as long as it reaches.
    double legs = 0, trunk = 0;
    int head = -1;
    for (int j = 0; j < c.skeleton.size(); ++j) {
        if (roles[j].role == Role::Ankle || (roles[j].fore && roles[j].role == Role::Wrist)) {
            int top = j;
            while (top >= 0 && roles[top].role != Role::Hip &&
                   !(roles[j].fore && roles[top].role == Role::Shoulder))
                top = c.skeleton.parent[top];
            double foot = 0;
            for (int k = j + 1; k < c.skeleton.size(); ++k)
                if (roles[k].role == Role::Toe && nextAbove(c.skeleton, roles, k) == j)
                    foot = std::max(foot, 0.6 * (c.skeleton.place(k) - c.skeleton.place(j)).norm());
            if (top >= 0)
                legs = std::max(legs, lengthUpTo(c, j, top) + foot);
        }
        if (roles[j].role == Role::Head && head < 0)
            head = j;
    }
    if (head >= 0) {
        int base = head;
        while (c.skeleton.parent[base] >= 0 && roles[c.skeleton.parent[base]].role != Role::Pelvis &&
               roles[c.skeleton.parent[base]].role != Role::Root)
            base = c.skeleton.parent[base];
        double crown = 0;
        for (std::size_t v = 0; v < c.neutral.size(); ++v)
            if (const std::uint32_t first = c.weights.first[v];
                first < c.weights.first[v + 1] && c.weights.joint[first] == head)
                crown = std::max(crown, (c.neutral[v].cast<double>() - c.skeleton.place(head)).norm());
        trunk = (body.quadruped ? 0.4 : 1.0) * lengthUpTo(c, head, base) + 0.8 * crown;
    }
    const double reach = legs > 0 && trunk > 0 ? legs + trunk : 0;
    const bool believed = reach <= 0 || std::abs(std::log(std::max(box, 1e-12) / reach)) < std::log(1.3);
    return believed ? box : reach;
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
            left += c.skeleton.place(j) - c.skeleton.place(r.mirror);
        if (r.role == Role::Hip && !r.fore) {
            const auto below = sk.subtree(j);
            double farthest = 0;
            Vec3d foot = Vec3d::Zero();
            for (int k = j + 1; k < sk.size(); ++k)
                if (below[k] && (roles[k].role == Role::Ankle || roles[k].role == Role::Knee) &&
                    (c.skeleton.place(k) - c.skeleton.place(j)).norm() > farthest) {
                    foot = c.skeleton.place(k) - c.skeleton.place(j);
                    farthest = foot.norm();
                }
            legs -= foot;
            pelvis += c.skeleton.place(j);
            ++hips;
        }
        if (const int ankle = r.role == Role::Toe && r.segment == 0 ? nextAbove(sk, roles, j) : -1;
            ankle >= 0 && roles[ankle].role == Role::Ankle)
            feet += unitOrZero(c.skeleton.place(j) - c.skeleton.place(ankle));
    }
    Vec3d top = Vec3d::Zero();
    int tops = 0;
    for (int j = 0; j < sk.size(); ++j)
        if (roles[j].role == Role::Neck || roles[j].role == Role::Head) {
            top += c.skeleton.place(j);
            ++tops;
        }
    Vec3d ahead = Vec3d::Zero(); // where the trunk of a legless body points
    if (hips && tops) {
        spine = unitOrZero(top / tops - pelvis / hips);
    } else if (tops) { // without legs: from where the trunk begins
        int first = -1;
        bool tail = false;
        for (int j = 0; j < sk.size(); ++j) {
            tail |= roles[j].role == Role::Tail || roles[j].role == Role::Fin;
            if (first < 0 && roles[j].movesSkin &&
                (roles[j].role == Role::Pelvis || roles[j].role == Role::Spine ||
                 roles[j].role == Role::Neck))
                first = j;
        }
        if (first >= 0)
            spine = ahead = unitOrZero(top / tops - sk.place(first));
        const Vec3d across = unitOrZero(left), over = unitOrZero(spine.cross(across));
        if (over.norm() < 0.5 && spine.y() < 0.7) // without sides nothing says what is over it
            spine = Vec3d::Zero();
        else if (tail && over.norm() > 0.5) // it lies along its length, as fish do
            spine = over;
    }

    // Legs and trunk both tell which way is up, each in its own way: a sitting body's legs do not, nor does
    // the trunk of a bird or of one that stoops. Where they disagree, what is nearer to the file's up.
    const Vec3d fromLegs = unitOrZero(legs);
    body.upFromLegs = fromLegs;
    const bool level = legs.norm() > 1e-9 && spine.norm() > 0 && spine.dot(fromLegs) < std::cos(radians(55));
    body.quadruped = fore || (level && handsOnGround(c, roles, fromLegs));
    Vec3d fromTrunk = spine;
    if (body.quadruped || level) { // along the trunk is forward
        const Vec3d along = unitOrZero(spine - spine.dot(unitOrZero(left)) * unitOrZero(left));
        fromTrunk = body.quadruped ? unitOrZero(along.cross(unitOrZero(left))) : spine;
    }
    const bool agree = fromLegs.dot(fromTrunk) > std::cos(radians(35));
    if (legs.norm() > 1e-9 && (agree || fromTrunk.norm() == 0 || fromLegs.y() >= fromTrunk.y() - 1e-9)) {
        body.up = fromLegs;
        body.basis = "up from the legs";
    } else if (fromTrunk.norm() > 0) {
        body.up = fromTrunk;
        body.basis = "up from the spine";
    } else {
        body.basis = "up as in the file";
    }
    body.up = snapped(body.up);

    left = left - left.dot(body.up) * body.up;
    if (left.norm() > 1e-6 * std::max(c.extent(), 1e-9)) {
        body.left = snapped(unitOrZero(left));
        body.basis += ", sides from the paired joints";
    } else {
        feet -= feet.dot(body.up) * body.up;
        ahead -= ahead.dot(body.up) * body.up;
        const Vec3d front = feet.norm() > 1e-6                            ? unitOrZero(feet)
                            : ahead.norm() > 0.5                          ? unitOrZero(ahead)
                            : std::abs(body.up.dot(Vec3d::UnitZ())) < 0.9 ? Vec3d::UnitZ()
                                                                          : Vec3d(-Vec3d::UnitY());
        body.left = body.up.cross(front).normalized();
        body.basis += feet.norm() > 1e-6 ? ", front from the feet" : ", front as in the file";
    }
    body.left = (body.left - body.left.dot(body.up) * body.up).normalized();
    body.forward = body.left.cross(body.up);
    if (feet.dot(body.forward) < -0.5) { // feet do not lie about the front; names of sides may
        body.forward = -body.forward;
        body.left = -body.left;
        body.basis += "; the joints named left are on its right";
    }
    body.height = heightOf(c, roles, body);
    return body;
}

std::vector<int> rootsOfBodies(const Character& c, const std::vector<JointRole>& roles) {
    constexpr std::size_t leastJoints = 4;
    constexpr double leastShare = 0.03; // of the skin
    const Skeleton& sk = c.skeleton;
    std::vector<std::uint32_t> root(roles.size());
    for (std::size_t j = 0; j < roles.size(); ++j)
        root[j] =
            sk.parent[j] < 0 ? static_cast<std::uint32_t>(j) : root[static_cast<std::size_t>(sk.parent[j])];
    DisjointSets one(roles.size()); // by their roots
    std::vector<double> held(roles.size(), 0);
    double all = 0;
    for (std::uint32_t v = 0; v < c.vertexCount(); ++v)
        for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i) {
            held[c.weights.joint[i]] += c.weights.weight[i];
            all += c.weights.weight[i];
            if (c.weights.weight[i] >= kLeastHeld)
                one.join(root[c.weights.joint[i]], root[c.weights.joint[c.weights.first[v]]]);
        }
    struct Tree {
        std::size_t joints = 0;
        double skin = 0;
        int heads = 0, limbs = 0;
    };
    std::map<std::uint32_t, Tree> trees;
    for (std::size_t j = 0; j < roles.size(); ++j) {
        if (held[j] <= 0)
            continue;
        Tree& t = trees[one.find(root[j])];
        ++t.joints;
        t.skin += held[j];
        t.heads += roles[j].role == Role::Head;
        t.limbs +=
            roles[j].role == Role::Hip || roles[j].role == Role::Shoulder || roles[j].role == Role::Wing;
    }
    std::vector<int> heads, limbs;
    for (const auto& [at, t] : trees) {
        if (t.joints < leastJoints || t.skin < leastShare * all)
            continue;
        if (t.heads > 0)
            heads.push_back(static_cast<int>(at));
        if (t.limbs > 1)
            limbs.push_back(static_cast<int>(at));
    }
    return heads.size() >= limbs.size() ? heads : limbs;
}

Vec3d boneDirection(const Character& c, const std::vector<JointRole>& roles, int joint) {
    const Skeleton& sk = c.skeleton;
    auto side = [&](int k) { return besideLimb(roles[k].role); };
    auto hangsFrom = [&](int k) { // an end marks the bone of what it hangs from, a twist's no other's
        return roles[k].role == Role::End ? sk.parent[k] : nextAbove(sk, roles, k);
    };
    Vec3d sum = Vec3d::Zero();
    const double tiny = 1e-5 * std::max(c.extent(), 1e-9);
    // What goes on from it first, then whatever else holds skin, then markers.
    for (int pass = 0; pass < 3 && sum.norm() <= tiny; ++pass)
        for (int k = joint + 1; k < sk.size(); ++k)
            if (!side(k) && hangsFrom(k) == joint &&
                (pass == 2 ||
                 (roles[k].movesSkin && (pass == 1 || goesOn(roles[joint].role, roles[k].role)))))
                sum += c.skeleton.place(k) - c.skeleton.place(joint);
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
    return weight > 0 ? unitOrZero(own / weight - c.skeleton.place(joint)) : Vec3d::Zero();
}

double neutralBend(const Character& c, const std::vector<JointRole>& roles, int joint, Vec3d& axis) {
    axis = Vec3d::Zero();
    const int up = nextAbove(c.skeleton, roles, joint);
    if (up < 0)
        return 0;
    const Vec3d above = unitOrZero(c.skeleton.place(joint) - c.skeleton.place(up)),
                below = boneDirection(c, roles, joint);
    const Vec3d cross = above.cross(below);
    if (above.norm() == 0 || below.norm() == 0)
        return 0;
    if (cross.norm() > 1e-4)
        axis = cross.normalized();
    return std::atan2(cross.norm(), above.dot(below));
}

Vec3d palmDirection(const Character& c, const std::vector<JointRole>& roles, const BodyFrame& body,
                    int wrist) {
    return handOf(c, roles, body, wrist).palm;
}

} // namespace hobble
