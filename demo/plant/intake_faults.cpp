// Faults that spoil a build before the first pose: names, neutral places, the mesh.
#include "faults.h"

#include "core/character/body.h"
#include "core/measure/edge_flow.h"
#include "core/measure/triangle_tree.h"
#include "core/pose/motion.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace hobble::demo {

namespace {

Truth asked(Patient& p, const Fault& f, int joint, std::vector<std::string> kinds, const char* unit) {
    Truth t = p.truth(f, joint);
    t.detector = "inspect";
    t.kinds = std::move(kinds);
    t.unit = unit;
    return t;
}

int paired(Patient& p, const Fault& f, std::initializer_list<Role> roles) {
    if (!f.joint.empty())
        return p.joint(f.joint);
    std::vector<int> suited;
    for (int j : p.movers(roles))
        if (p.roles[j].mirror >= 0)
            suited.push_back(j);
    return p.pick(suited);
}

// Triangles of the body into its list anew; the other parts' ranges follow.
void setBodyTriangles(Character& c, int part, const std::vector<Triangle>& triangles) {
    std::vector<Triangle> all;
    std::vector<std::pair<std::uint32_t, std::uint32_t>> ranges;
    for (std::size_t k = 0; k < c.parts.size(); ++k) {
        const auto first = static_cast<std::uint32_t>(all.size());
        const Part& old = c.parts[k];
        if (static_cast<int>(k) == part)
            all.insert(all.end(), triangles.begin(), triangles.end());
        else
            all.insert(all.end(), c.triangles.begin() + old.firstTriangle,
                       c.triangles.begin() + old.firstTriangle + old.triangleCount);
        ranges.push_back({first, static_cast<std::uint32_t>(all.size()) - first});
    }
    c.triangles = std::move(all);
    for (std::size_t k = 0; k < c.parts.size(); ++k)
        std::tie(c.parts[k].firstTriangle, c.parts[k].triangleCount) = ranges[k];
}

std::vector<Triangle> bodyTriangles(const Patient& p) {
    const Part& part = p.c.parts[p.body()];
    return {p.c.triangles.begin() + part.firstTriangle,
            p.c.triangles.begin() + part.firstTriangle + part.triangleCount};
}

// A vertex of the body well inside its surface.
std::uint32_t innerVertex(Patient& p) { return p.vertexHeldBy(p.pick(p.movers())); }

} // namespace

Truth plantSwappedNames(Patient& p, const Fault& f) {
    const int joint = paired(p, f, {Role::Wrist, Role::Ankle, Role::Knee, Role::Elbow, Role::Finger});
    const int other = p.roles[joint].mirror;
    Truth t = asked(p, f, joint, {"joints that do not pair"}, "pairs");
    t.joints = {p.name(other)};
    t.size = 1;
    std::swap(p.c.skeleton.name[joint], p.c.skeleton.name[other]);
    return t;
}

Truth plantUnpaired(Patient& p, const Fault& f) {
    const int joint =
        paired(p, f, {Role::Wrist, Role::Ankle, Role::Knee, Role::Elbow, Role::Shoulder, Role::Hip});
    const int other = p.roles[joint].mirror;
    Truth t = asked(p, f, joint, {"joints that do not pair"}, "pairs");
    t.joints = {p.name(other)};
    t.size = 1;
    std::string& name = p.c.skeleton.name[joint]; // a stem of its own, the side kept
    const auto at = name.find_last_of("._");
    const std::string side = at == std::string::npos ? "" : name.substr(at);
    const auto known = p.roles[joint].role;
    name = (known == Role::Wrist   ? "paw_wrist"
            : known == Role::Ankle ? "tarsus"
            : known == Role::Knee  ? "crus"
            : known == Role::Elbow ? "ulna"
            : known == Role::Hip   ? "femur"
                                   : "humerus_bone") +
           side;
    t.joint = name;
    return t;
}

Truth plantStraightLimb(Patient& p, const Fault& f) {
    const int joint = paired(p, f, {Role::Elbow, Role::Knee});
    Skeleton& sk = p.c.skeleton;
    int above = sk.parent[joint];
    while (above >= 0 && p.roles[above].role == Role::Twist)
        above = sk.parent[above];
    const Vec3d from = p.place(above), to = p.boneEnd(joint), at = p.place(joint);
    const Vec3d along = (to - from).normalized();
    const Vec3d on = from + along * (at - from).dot(along);
    Truth t = asked(p, f, joint, {"straight limb", "joints that do not pair"}, "metres");
    t.joints = {p.name(p.roles[joint].mirror)};
    t.size = (on - at).norm();
    sk.neutralWorld[joint].translation() = on;
    rebind(p.c);
    return t;
}

Truth plantLooseVertices(Patient& p, const Fault& f) {
    const std::uint32_t middle = innerVertex(p);
    Truth t = asked(p, f, -1, {"vertices with no weight"}, "vertices");
    t.part = p.c.parts[p.body()].name;
    for (const auto& [v, out] : p.patch(middle, 0.01 + 0.03 * f.strength)) {
        p.weights[v].clear();
        p.touch(t, v);
        ++t.size;
    }
    return t;
}

// The mesh laid anew over the same skin, its rings tilted: each vertex slides along the limb, back onto the
// skin, and takes the weights it finds there.
Truth plantLoopsAskew(Patient& p, const Fault& f) {
    Character& c = p.c;
    const Subject before = prepareSubject(std::make_shared<const Character>(c));
    EdgeFlow rings(before);
    std::vector<int> looped; // where the mesh has loops to tilt
    for (int j : p.movers({Role::Elbow, Role::Knee, Role::Fetlock}))
        if (!rings.ringsAt(j).empty())
            looped.push_back(j);
    const int joint = f.joint.empty() ? p.pick(looped) : p.joint(f.joint);
    const Part& part = c.parts[p.body()];
    const Vec3d at = p.place(joint), along = (p.boneEnd(joint) - at).normalized();
    const double radius = p.radius(joint), slope = std::tan(radians(30 + 15 * f.strength));
    if (!(along.norm() > 0.5) || !(radius > 0))
        throw Unsuited{"there is no limb beyond it"};
    Vec3d side = Vec3d::Zero(); // what it bends about
    for (const Motion& m : defaultPlan(c, p.roles).motions)
        if (m.turns.size() == 1 && m.turns[0].joint == joint && !m.roll)
            side = rotationOf(c.skeleton.neutralWorld[joint]) * m.turns[0].axis;
    side = unitOrZero(side - along.dot(side) * along);
    if (side.isZero())
        throw Unsuited{"nothing bends it"};
    std::vector<std::uint32_t> skin(part.triangleCount);
    std::iota(skin.begin(), skin.end(), part.firstTriangle);
    const std::vector<Vec3> neutral(c.neutral.begin(), c.neutral.end());
    const std::vector<Triangle> triangles(c.triangles.begin(), c.triangles.end());
    const std::vector<Weights> weights = p.weights;
    const TriangleTree tree = buildTree(triangles, skin, neutral);
    Boxes boxes;
    refit(tree, triangles, neutral, boxes);
    Truth t = asked(p, f, joint, {"edge loops askew of the bend"}, "metres along the limb");
    for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v) {
        const Vec3d from = neutral[v].cast<double>() - at;
        const double height = along.dot(from);
        const Vec3d out = from - height * along;
        const double fade = std::clamp((3 - std::abs(height) / radius) / 1.5, 0.0, 1.0); // whole to 1.5 radii
        const double by = slope * fade * side.dot(from);
        if (fade <= 0 || out.norm() > 2 * radius || out.norm() <= 0 || std::abs(by) < 1e-6)
            continue;
        const Vec3 middle = (at + (height + by) * along).cast<float>(), way = out.normalized().cast<float>();
        const RayHit hit =
            castRay(tree, boxes, triangles, neutral, middle, way, 0, static_cast<float>(2 * radius));
        if (hit.triangle == ~0u || !hit.fromBehind)
            continue;
        const Triangle& f3 = triangles[hit.triangle];
        const Vec3 place = middle + hit.distance * way;
        const Vec3 whole = (neutral[f3[1]] - neutral[f3[0]]).cross(neutral[f3[2]] - neutral[f3[0]]);
        Weights there;
        for (std::size_t k = 0; k < 3; ++k) {
            const Vec3 &a = neutral[f3[(k + 1) % 3]], &b = neutral[f3[(k + 2) % 3]];
            const double share = std::clamp(
                static_cast<double>((a - place).cross(b - place).dot(whole) / whole.squaredNorm()), 0.0, 1.0);
            for (const auto& [j, w] : weights[f3[k]])
                there.push_back({j, share * w});
        }
        p.weights[v] = std::move(there);
        c.bindPosition[v] += place - neutral[v];
        c.neutral[v] = place;
        t.size = std::max(t.size, std::abs(by));
        p.touch(t, v);
    }
    if (t.vertices.empty())
        throw Unsuited{"no limb closes about it"};
    return t;
}

Truth plantHole(Patient& p, const Fault& f) {
    const std::uint32_t middle = innerVertex(p);
    Truth t = asked(p, f, -1, {"hole"}, "triangles");
    t.part = p.c.parts[p.body()].name;
    std::vector<Triangle> kept;
    const Vec3 at = p.c.neutral[middle];
    for (const Triangle& tri : bodyTriangles(p)) {
        bool here = false;
        for (std::uint32_t v : tri)
            here |= p.c.neutral[v] == at;
        if (here) {
            ++t.size;
            for (std::uint32_t v : tri)
                if (p.c.neutral[v] != at)
                    p.touch(t, v);
        } else {
            kept.push_back(tri);
        }
    }
    setBodyTriangles(p.c, p.body(), kept);
    return t;
}

Truth plantFlatTriangles(Patient& p, const Fault& f) {
    Truth t = asked(p, f, -1, {"zero-area triangles"}, "triangles");
    t.part = p.c.parts[p.body()].name;
    std::vector<Triangle> all = bodyTriangles(p);
    const std::size_t count = 1 + static_cast<std::size_t>(12 * f.strength), whole = all.size();
    for (std::size_t i = 0; i < count; ++i) {
        const Triangle tri = all[static_cast<std::size_t>(p.chance() * 0.999 * static_cast<double>(whole))];
        // as a merge leaves them: a triangle with two corners alike, or one that lies there twice
        all.push_back(p.chance() < 0.5 ? Triangle{tri[0], tri[1], tri[1]} : tri);
        for (std::uint32_t v : tri)
            p.touch(t, v);
        ++t.size;
    }
    setBodyTriangles(p.c, p.body(), all);
    return t;
}

Truth plantMirroredAxes(Patient& p, const Fault& f) {
    const int joint =
        paired(p, f, {Role::Elbow, Role::Knee, Role::Wrist, Role::Ankle, Role::Shoulder, Role::Hip});
    const Vec3d bone = (p.boneEnd(joint) - p.place(joint)).normalized();
    Truth t = asked(p, f, joint, {"axes differ from the other side", "axes differ along a chain"}, "degrees");
    t.joints = {p.name(p.roles[joint].mirror)};
    t.size = 30 + 90 * f.strength;
    const Quat before = rotationOf(p.c.skeleton.neutralWorld[joint]);
    p.c.skeleton.neutralWorld[joint].linear() =
        (Quat(Eigen::AngleAxisd(radians(t.size), bone)) * before).toRotationMatrix();
    const Quat after = rotationOf(p.c.skeleton.neutralWorld[joint]);
    for (Driver& d : p.c.drivers) {
        if (d.source == joint)
            d.about = after.inverse() * (before * d.about);
        if (d.output != Driver::Output::Target && d.joint == joint)
            d.along = after.inverse() * (before * d.along);
    }
    rebind(p.c);
    return t;
}

} // namespace hobble::demo
