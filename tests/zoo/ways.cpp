#include "zoo/ways.h"

#include "core/pose/coverage.h"

#include <algorithm>

namespace hobble::zoo {

namespace {

// The middle of the skin that a joint and what hangs from it hold, where the pose takes it.
Vec3d skinAt(const Character& c, const std::vector<Transform>& world, int joint, bool alone = false) {
    std::vector<char> in = c.skeleton.subtree(joint);
    if (alone) {
        in.assign(in.size(), 0);
        in[static_cast<std::size_t>(joint)] = 1;
    }
    Vec3d sum = Vec3d::Zero();
    double all = 0;
    for (std::size_t v = 0; v < c.vertexCount(); ++v)
        for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i) {
            const int j = c.weights.joint[i];
            if (!in[j])
                continue;
            const double w = c.weights.weight[i];
            sum += w * (world[j] * c.skeleton.neutralWorld[j].inverse() * c.neutral[v].cast<double>());
            all += w;
        }
    return all > 0 ? Vec3d(sum / all) : Vec3d(world[joint].translation());
}

bool ends(const std::string& name, const char* with) {
    const std::string w(with);
    return name.size() >= w.size() && name.compare(name.size() - w.size(), w.size(), w) == 0;
}

// A raised arm's palm looks down, as these hands are drawn.
Vec3d palmOf(const Body& body, int joint) {
    int wrist = joint;
    while (wrist >= 0 && body.bones[static_cast<std::size_t>(wrist)].role != Role::Wrist)
        wrist = body.bones[static_cast<std::size_t>(wrist)].parent;
    if (wrist < 0)
        return Vec3d::Zero();
    Vec3d along = Vec3d::Zero();
    for (const Bone& b : body.bones)
        if (b.role == Role::Finger && b.segment == 0) {
            int up = b.parent;
            while (up >= 0 && up != wrist)
                up = body.bones[static_cast<std::size_t>(up)].parent;
            if (up == wrist)
                along += b.at - body.bones[static_cast<std::size_t>(wrist)].at;
        }
    const double x = body.bones[static_cast<std::size_t>(wrist)].side == Side::Right ? -1 : 1;
    return x * along.normalized().cross(body.forward);
}

} // namespace

void Ways::add(const Ways& o) {
    asked += o.asked;
    right += o.right;
    joints += o.joints;
    planned += o.planned;
    leastCoverage = std::min(leastCoverage, o.leastCoverage);
    wrong.insert(wrong.end(), o.wrong.begin(), o.wrong.end());
}

Ways waysOf(const Body& body, const Convention& convention) {
    const Character c = characterOf(body, convention);
    const auto roles = guessRoles(c);
    const Plan plan = defaultPlan(c, roles);
    Ways out;
    out.leastCoverage = coverageOf(c, roles, plan).share;
    std::vector<char> turned(body.bones.size(), 0);
    for (const Motion& m : plan.motions) {
        const int lead = m.turns.front().joint;
        const Bone& bone = body.bones[static_cast<std::size_t>(lead)];
        for (const JointTurn& t : m.turns)
            if (t.share != 0 && isRightly(body.bones[static_cast<std::size_t>(t.joint)], m.role,
                                          roles[static_cast<std::size_t>(t.joint)].fore))
                turned[static_cast<std::size_t>(t.joint)] = 1;
        const double x = bone.side == Side::Right ? -1 : 1;
        const bool biped = m.name != "wrist bend in" || !bone.fore;
        Vec3d way = Vec3d::Zero();
        if (ends(m.name, " curl") || ends(m.name, "palm cup") || (m.name == "wrist bend in" && biped))
            way = palmOf(body, lead);
        else if (m.name == "elbow flex" || m.name == "hock flex" || ends(m.name, " front") ||
                 ends(m.name, " sweep"))
            way = body.forward;
        else if (m.name == "knee flex" || ends(m.name, " back") || ends(m.name, " fold") ||
                 m.name == "fetlock flex")
            way = -body.forward;
        else if (ends(m.name, " up") || ends(m.name, " raise"))
            way = body.up;
        else if (ends(m.name, " down") || ends(m.name, " lower") || ends(m.name, " nod") ||
                 m.name == "jaw open")
            way = -body.up;
        else if (ends(m.name, " out") && !m.roll)
            way = x * body.left;
        else if (ends(m.name, " side") && m.name.find("bend") == std::string::npos)
            way = m.side == Side::Left ? body.left : Vec3d(-body.left);
        if (m.name == "wrist bend back" || way.norm() < 0.5)
            continue;
        if (bone.oneOfManyLegs && ends(m.name, " flex")) // what sprawls closes its knees inwards
            continue;
        // what stands or hangs straight that way can only go across it: a toe on its tip goes forward to go
        // up Of the trunk the head tells, and of a collarbone the shoulder: arms may hang anywhere.
        int tip = m.turns.back().joint, told = -1;
        const auto below = c.skeleton.subtree(lead);
        for (std::size_t j = 0; j < body.bones.size() && told < 0; ++j)
            if (below[j] &&
                ((body.bones[j].role == Role::Head && (m.role == Role::Spine || m.role == Role::Neck)) ||
                 (body.bones[j].role == Role::Shoulder &&
                  (m.role == Role::Collarbone || m.role == Role::Scapula))))
                told = static_cast<int>(j);
        const auto at = [&](const std::vector<Transform>& world) {
            if (m.role == Role::Head) // hair and trunks hang
                return skinAt(c, world, lead, true);
            return told >= 0 ? Vec3d(world[static_cast<std::size_t>(told)].translation())
                             : skinAt(c, world, tip);
        };
        const Vec3d before = at(c.skeleton.neutralWorld);
        const Vec3d lever = before - c.skeleton.neutralWorld[static_cast<std::size_t>(lead)].translation();
        if (lever.norm() < 1e-9 || std::abs(lever.normalized().dot(way)) > 0.9)
            continue;
        const auto posed = worldTransforms(c.skeleton, poseAt(c.skeleton, m, std::min(20.0, m.limit())));
        const Vec3d went = at(posed) - before;
        ++out.asked;
        if (went.dot(way) > 0.2 * went.norm())
            ++out.right;
        else
            out.wrong.push_back(body.name + ": " + wordsFor(m) + " of " +
                                c.skeleton.name[static_cast<std::size_t>(lead)]);
    }
    for (std::size_t j = 0; j < body.bones.size(); ++j) {
        const Role r = body.bones[j].role;
        if ((body.bones[j].radius <= 0 && !body.bones[j].carries) || body.bones[j].follows ||
            r == Role::Twist || r == Role::Helper || r == Role::Pelvis || r == Role::Root ||
            body.bones[j].parent < 0)
            continue;
        ++out.joints;
        out.planned += turned[j] || (body.bones[j].carries && turned[j + 1]);
    }
    return out;
}

} // namespace hobble::zoo
