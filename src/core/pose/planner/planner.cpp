#include "core/pose/planner/planner.h"

#include <algorithm>
#include <cmath>

namespace hobble {

Plan Planner::make() {
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

std::vector<Motion> Planner::byShape(int joint) {
    sway({joint}, c_.skeleton.name[joint], 45, true);
    return std::move(plan_.motions);
}

Vec3d Planner::swing(const Vec3d& from, const Vec3d& towards) {
    const Vec3d axis = from.cross(towards);
    return axis.norm() > 0.05 ? Vec3d(axis.normalized()) : Vec3d::Zero();
}

Vec3d Planner::lever(int j) const {
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

bool Planner::sprawls(int j) const {
    constexpr double aside = 0.6; // cosine to the side of the body
    const Vec3d skin = lever(j);
    return skin.norm() > 1e-9 && skin.normalized().dot(outward(j)) > aside;
}

Vec3d Planner::about(const Vec3d& axis, int j, const Vec3d& towards) const {
    return axis.cross(lever(j)).dot(towards) < 0 ? Vec3d(-axis) : axis;
}

void Planner::add(const std::vector<int>& joints, const Vec3d& worldAxis, double limit, Limb limb,
                  const std::string& name, Side side, bool roll) {
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

const char* Planner::sourceOf(Role role) const {
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

void Planner::add(int joint, const Vec3d& worldAxis, double limit, Limb limb, const std::string& name,
                  bool roll) {
    add(std::vector<int>{joint}, worldAxis, limit, limb, name, roles_[joint].side, roll);
}

Vec3d Planner::hinge(int j, const Vec3d& towards, double& bentDegrees) const {
    Vec3d shown;
    const double bend = degrees(neutralBend(c_, roles_, j, shown));
    const Vec3d expected = swing(boneDirection(c_, roles_, j), towards);
    const bool trust = bend > 15 || (bend > 3 && shown.dot(expected) > 0.3) || expected.norm() < 0.5;
    bentDegrees = trust ? bend : 0;
    return trust && shown.norm() > 0.5 ? shown : expected;
}

void Planner::plan(int j) {
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

bool Planner::holdsAll(int j) const {
    const auto in = c_.skeleton.subtree(j);
    for (int k = 0; k < c_.skeleton.size(); ++k)
        if (roles_[k].movesSkin && !in[k] && !c_.skeleton.subtree(k)[j])
            return false;
    return true;
}

bool Planner::skinAbove(int j) const {
    for (int up = c_.skeleton.parent[j]; up >= 0; up = c_.skeleton.parent[up])
        if (holds_[up])
            return true;
    return false;
}

void Planner::unnamed(int j) {
    if (c_.skeleton.parent[j] < 0 && holdsAll(j))
        return;
    sway({j}, roles_[j].role == Role::Unknown ? c_.skeleton.name[j] : nameOf(roles_[j].role), 45, true);
}

void Planner::sway(const std::vector<int>& joints, const std::string& n, double limit, bool rolls) {
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

Vec3d Planner::chainDirection(const std::vector<int>& joints) const {
    const Vec3d along = c_.skeleton.neutralWorld[joints.back()].translation() -
                        c_.skeleton.neutralWorld[joints.front()].translation();
    const Vec3d last = boneDirection(c_, roles_, joints.back());
    const double each = joints.size() > 1 ? along.norm() / static_cast<double>(joints.size() - 1) : 1;
    const Vec3d all = along + each * last;
    return all.norm() > 1e-9 ? Vec3d(all.normalized()) : Vec3d::Zero();
}

std::vector<std::vector<int>> Planner::chainsOf(Role role) const {
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

void Planner::chain(Role role, Limb limb, const std::string& part, const ChainLimits& limits) {
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

} // namespace hobble
