// Faults of parts, drivers, the mesh and the skeleton.
#include "faults.h"

#include "core/character/body.h"

#include <algorithm>
#include <cmath>

namespace hobble::demo {

namespace {

int where(Patient& p, const Fault& f, const std::vector<int>& from) {
    return f.joint.empty() ? p.pick(from) : p.joint(f.joint);
}

void touchFollowing(const Patient& p, Truth& t, int joint) {
    const Part& part = p.c.parts[p.body()];
    for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v)
        if (const double s = p.following(v, joint); s > 0.02 && s < 0.98)
            p.touch(t, v);
}

std::string jointOfPart(const Patient& p, int part) {
    for (std::uint32_t v = p.c.parts[part].firstVertex;; ++v)
        if (!p.weights[v].empty())
            return p.name(p.weights[v].front().first);
}

} // namespace

// The skeleton's locals follow from where its joints stand; every skin is bound anew there.
void rebind(Character& c) {
    Skeleton& sk = c.skeleton;
    for (int j = 0; j < sk.size(); ++j)
        sk.neutralLocal[j] = sk.parent[j] < 0 ? sk.neutralWorld[j]
                                              : sk.neutralWorld[sk.parent[j]].inverse() * sk.neutralWorld[j];
    sk.restWorld = sk.neutralWorld; // exported in the bind pose
    for (Skin& skin : c.skins)
        for (int j = 0; j < sk.size(); ++j)
            skin.inverseBind[j] = sk.neutralWorld[j].inverse();
}

Truth plantSoftPart(Patient& p, const Fault& f) {
    std::vector<int> suited;
    for (int k : p.rigidParts())
        if (p.c.skeleton.parent[p.joint(jointOfPart(p, k))] >= 0)
            suited.push_back(k);
    const int k = f.part.empty() ? p.pick(suited) : p.part(f.part);
    const Part& part = p.c.parts[k];
    const int own = p.joint(jointOfPart(p, k));
    int other = p.above(own);
    if (p.roles[other].role == Role::Root) // the root never turns; something next to it does
        for (int j : p.movers({Role::Spine, Role::Hip, Role::Neck}))
            if (p.above(j) == own)
                other = j;
    Eigen::AlignedBox3f box;
    for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v)
        box.extend(p.c.neutral[v]);
    Eigen::Index axis;
    box.sizes().maxCoeff(&axis);
    Truth t = p.truth(f, own);
    t.joints = {p.name(other)};
    t.kinds = {"soft rigid part", "stretch", "squash"};
    t.cause = "part bound softly";
    t.part = part.name;
    t.unit = "weight";
    t.size = 0.3 + 0.7 * f.strength;
    for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v) {
        const double s = (p.c.neutral[v][axis] - box.min()[axis]) / box.sizes()[axis];
        hand(p.weights[v], own, other, t.size * s);
        p.touch(t, v);
    }
    return t;
}

Truth plantUnboundPart(Patient& p, const Fault& f) {
    const int k = f.part.empty() ? p.pick(p.rigidParts()) : p.part(f.part);
    Part& part = p.c.parts[k];
    Truth t = p.truth(f, p.joint(jointOfPart(p, k)));
    t.kinds = {"unbound part"};
    t.cause = "part not bound";
    t.part = part.name;
    t.unit = "weight";
    t.size = 1;
    for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v) {
        p.weights[v].clear();
        p.touch(t, v);
    }
    part.skin = -1;
    part.skinned = false;
    part.targets.clear();
    part.targetWeights.clear();
    std::erase_if(p.c.drivers,
                  [&](const Driver& d) { return d.output == Driver::Output::Target && d.part == k; });
    return t;
}

Truth plantGarment(Patient& p, const Fault& f) {
    const int k = f.part.empty() ? p.pick(p.garments()) : p.part(f.part);
    const Part part = p.c.parts[k];
    auto crossing = [&](int j) {
        std::vector<int> out;
        for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v)
            if (const double s = p.following(v, j); s > 0.3 && s < 0.7)
                out.push_back(static_cast<int>(v));
        return out;
    };
    std::vector<int> joints;
    for (int j : p.movers({Role::Shoulder, Role::Elbow, Role::Hip, Role::Neck, Role::Knee, Role::Head}))
        if (crossing(j).size() > 12)
            joints.push_back(j);
    const int joint = where(p, f, joints);
    Truth t = p.truth(f, joint);
    t.kinds = {"poke-through", "gap", "stretch", "squash", "roughness"};
    t.cause = "weights differ between garment and body";
    t.part = part.name;
    t.unit = "weight";
    auto change = [&](std::uint32_t v, double after) {
        const double before = p.following(v, joint);
        if (std::abs(after - before) < 0.02)
            return;
        p.setFollowing(v, joint, after);
        t.size = std::max(t.size, std::abs(after - before));
        p.touch(t, v);
    };
    if (f.fault == "poke-through at one border") {
        const auto middle = static_cast<std::uint32_t>(p.pick(crossing(joint)));
        const double way = p.chance() < 0.5 ? -1 : 1;
        for (const auto& [v, out] : p.patch(middle, 0.9 * p.radius(joint)))
            change(v, std::clamp(p.following(v, joint) + way * (0.25 + 0.4 * f.strength) * (1 - out * out),
                                 0.0, 1.0));
    } else {
        for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v) {
            const double s = p.following(v, joint);
            if (s > 0.02 && s < 0.999)
                change(v, s * (1 - (0.4 + 0.5 * f.strength)));
        }
    }
    return t;
}

Truth plantDriver(Patient& p, const Fault& f) {
    const bool twist = f.fault == "twist not shared", at_once = f.fault == "corrective at once",
               off = f.fault == "helper driver off";
    auto suits = [&](const Driver& d) {
        if (at_once) {
            if (d.output != Driver::Output::Target ||
                p.c.parts[d.part].vertexCount != p.c.parts[p.body()].vertexCount)
                return false;
            const ShapeTarget& t = p.c.parts[d.part].targets[d.target];
            float most = 0;
            for (const Vec3& x : t.delta)
                most = std::max(most, x.norm());
            return most > 0.008f * static_cast<float>(p.bodyHeight());
        }
        return d.output == Driver::Output::Turn &&
               p.roles[d.joint].role == (twist ? Role::Twist : Role::Helper);
    };
    std::vector<int> sources;
    for (const Driver& d : p.c.drivers)
        if (suits(d))
            sources.push_back(d.source);
    const int joint = where(p, f, sources);
    Truth t = p.truth(f, joint);
    t.cause = twist ? "twist not shared out" : "driver or corrective wrong";
    t.unit = "degrees";
    if (twist)
        t.kinds = {"pinch", "volume loss", "stretch", "squash", "roughness"};
    else if (at_once)
        t.kinds = {"pop"};
    else
        t.kinds = {"volume loss", "pinch",   "squash", "stretch",      "bulge",
                   "roughness",   "contact", "pop",    "poke-through", "gap"};
    if (!at_once && p.roles[joint].mirror >= 0)
        t.kinds.push_back("one-sided");
    const Part& body = p.c.parts[p.body()];
    if (at_once) {
        std::vector<int> own;
        for (std::size_t i = 0; i < p.c.drivers.size(); ++i)
            if (p.c.drivers[i].source == joint && suits(p.c.drivers[i]))
                own.push_back(static_cast<int>(i));
        Driver& d = p.c.drivers[p.pick(own)];
        const double at =
            d.keys[0].degrees + (d.keys[1].degrees - d.keys[0].degrees) * (0.3 + 0.6 * f.strength);
        std::vector<DriverKey> keys{{at - 0.02, 0}, {at, d.keys[1].out}};
        for (std::size_t i = 1; i < d.keys.size(); ++i)
            if (d.keys[i].degrees > at)
                keys.push_back(d.keys[i]);
        d.keys = keys;
        t.size = at;
        for (std::uint32_t v : p.c.parts[d.part].targets[d.target].vertex)
            p.touch(t, body.firstVertex + v);
        return t;
    }
    std::set<int> followers;
    for (Driver& d : p.c.drivers)
        if (d.source == joint && suits(d)) {
            followers.insert(d.joint);
            t.size = std::max(t.size, std::abs(driverSlope(d)) * 90);
            if (!twist && !off) // it starts far too late, and then overshoots
                d.keys = {{-180, 0}, {40, 0}, {70 + 40 * (1 - f.strength), 70 + 50 * f.strength}};
        }
    if (twist || off)
        std::erase_if(p.c.drivers, [&](const Driver& d) { return d.source == joint && suits(d); });
    for (std::uint32_t v = body.firstVertex; v < body.firstVertex + body.vertexCount; ++v)
        for (int j : followers)
            if (p.share(v, j) > 0.02) {
                p.touch(t, v);
                break;
            }
    return t;
}

Truth plantFewLoops(Patient& p, const Fault& f) {
    const int joint =
        where(p, f, p.movers({Role::Elbow, Role::Knee, Role::Wrist, Role::Ankle, Role::Fetlock, Role::Neck}));
    Character& c = p.c;
    const int k = p.body();
    const Part part = c.parts[k];
    const double edge = 0.04 + 0.08 * (1 - f.strength); // shares below it and above 1 - it stay
    std::vector<std::uint32_t> before, after;
    std::vector<double> follow(c.vertexCount(), 0);
    for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v) {
        follow[v] = p.following(v, joint);
        if (follow[v] > 0.001 && follow[v] <= edge)
            before.push_back(v);
        if (follow[v] < 0.999 && follow[v] >= 1 - edge)
            after.push_back(v);
    }
    if (before.size() < 4 || after.size() < 4)
        throw Unsuited{"its blend is too narrow to take loops away"};
    std::vector<std::uint32_t> to(c.vertexCount());
    std::set<std::uint32_t> ends;
    for (std::uint32_t v = 0; v < c.vertexCount(); ++v) {
        to[v] = v;
        if (follow[v] <= edge || follow[v] >= 1 - edge)
            continue;
        const auto& ring = follow[v] < 0.5 ? before : after;
        to[v] = *std::min_element(ring.begin(), ring.end(), [&](std::uint32_t a, std::uint32_t b) {
            return (c.neutral[a] - c.neutral[v]).squaredNorm() < (c.neutral[b] - c.neutral[v]).squaredNorm();
        });
        ends.insert(to[v]);
    }
    std::vector<Triangle> kept;
    std::uint32_t firstKept = 0, count = 0;
    for (std::uint32_t i = 0; i < c.triangles.size(); ++i) {
        if (i == part.firstTriangle)
            firstKept = static_cast<std::uint32_t>(kept.size());
        Triangle t = c.triangles[i];
        for (auto& v : t)
            v = to[v];
        if (t[0] == t[1] || t[1] == t[2] || t[2] == t[0])
            continue;
        kept.push_back(t);
        count += i >= part.firstTriangle && i < part.firstTriangle + part.triangleCount;
    }
    const std::uint32_t lost = part.triangleCount - count;
    c.triangles = std::move(kept);
    c.parts[k].firstTriangle = firstKept;
    c.parts[k].triangleCount = count;
    for (std::size_t o = 0; o < c.parts.size(); ++o)
        if (c.parts[o].firstTriangle > firstKept)
            c.parts[o].firstTriangle -= lost;
    std::vector<int> index(c.vertexCount());
    std::vector<std::uint32_t> order;
    for (std::uint32_t v = 0; v < c.vertexCount(); ++v) {
        index[v] = to[v] == v ? static_cast<int>(order.size()) : -1;
        if (index[v] >= 0)
            order.push_back(v);
    }
    reorder(c, p.weights, order);
    Truth t = p.truth(f, joint);
    t.kinds = {"squash", "stretch", "pinch", "volume loss", "roughness", "flip", "contact"};
    t.cause = "too few edge loops";
    t.unit = "vertices taken away";
    t.size = static_cast<double>(to.size() - order.size());
    if (p.roles[joint].mirror >= 0)
        t.kinds.push_back("one-sided");
    for (std::uint32_t v : ends)
        p.touch(t, static_cast<std::uint32_t>(index[v]));
    return t;
}

Truth plantSeam(Patient& p, const Fault& f) {
    const int joint = where(p, f,
                            p.movers({Role::Elbow, Role::Knee, Role::Wrist, Role::Ankle, Role::Neck,
                                      Role::Shoulder, Role::Hip, Role::Head}));
    Character& c = p.c;
    const int k = p.body();
    const Part part = c.parts[k];
    std::map<std::uint32_t, std::uint32_t> twin; // on the far side of the seam
    std::vector<std::uint32_t> order;
    for (std::uint32_t v = 0; v < part.firstVertex + part.vertexCount; ++v)
        order.push_back(v);
    std::vector<char> far(c.triangles.size(), 0);
    for (std::uint32_t i = part.firstTriangle; i < part.firstTriangle + part.triangleCount; ++i) {
        double s = 0;
        for (auto v : c.triangles[i])
            s += p.following(v, joint) / 3;
        far[i] = s > 0.5;
    }
    std::vector<char> sides(c.vertexCount(), 0);
    for (std::uint32_t i = part.firstTriangle; i < part.firstTriangle + part.triangleCount; ++i)
        for (auto v : c.triangles[i])
            sides[v] |= far[i] ? 2 : 1;
    for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v)
        if (sides[v] == 3) {
            twin[v] = static_cast<std::uint32_t>(order.size());
            order.push_back(v);
        }
    if (twin.empty())
        throw Unsuited{"nothing blends across the joint"};
    const auto added = static_cast<std::uint32_t>(twin.size()), end = part.firstVertex + part.vertexCount;
    for (std::uint32_t v = end; v < c.vertexCount(); ++v)
        order.push_back(v);
    std::vector<Triangle> triangles = c.triangles;
    for (std::uint32_t i = 0; i < triangles.size(); ++i)
        for (auto& v : triangles[i])
            if (v >= end)
                v += added;
            else if (far[i] && twin.count(v))
                v = twin.at(v);
    c.triangles.clear();
    reorder(c, p.weights, order);
    c.triangles = std::move(triangles);
    Truth t = p.truth(f, joint);
    t.detector = "inspect";
    t.joints = {p.name(p.above(joint))};
    t.kinds = {"unmerged vertices", "doubled vertices", "seam that cracks"};
    t.unit = "weight";
    for (const auto& [v, other] : twin) {
        const double before = p.following(v, joint),
                     after = std::clamp(before + 0.05 + 0.25 * f.strength, 0.0, 1.0);
        p.setFollowing(other, joint, after);
        t.size = std::max(t.size, after - before);
        p.touch(t, v);
        p.touch(t, other);
    }
    return t;
}

Truth plantPivot(Patient& p, const Fault& f) {
    const int joint = where(p, f,
                            p.movers({Role::Elbow, Role::Knee, Role::Wrist, Role::Ankle, Role::Shoulder,
                                      Role::Hip, Role::Fetlock}));
    const Vec3d bone = (p.boneEnd(joint) - p.place(joint)).normalized();
    Vec3d across = Vec3d::UnitZ() - Vec3d::UnitZ().dot(bone) * bone;
    if (across.norm() < 0.3)
        across = Vec3d::UnitX() - Vec3d::UnitX().dot(bone) * bone;
    const double far = (1.4 + 0.9 * f.strength) * p.radius(joint) * (p.chance() < 0.5 ? -1 : 1);
    Truth t = p.truth(f, joint);
    t.kinds = {"bulge",   "volume loss", "pinch",     "stretch",    "squash",
               "contact", "one-sided",   "roughness", "wrong bend", "flip"};
    t.cause = "pivot or axis wrong";
    t.unit = "metres";
    t.size = std::abs(far);
    for (int j = 0; j < p.c.skeleton.size(); ++j) // with what is one with it
        if (j == joint || p.roles[j].oneWith == joint)
            p.c.skeleton.neutralWorld[j].translation() += far * across.normalized();
    rebind(p.c);
    touchFollowing(p, t, joint);
    return t;
}

Truth plantBendAxis(Patient& p, const Fault& f) {
    const int joint = where(p, f, p.movers({Role::Finger}));
    const Vec3d bone = (p.boneEnd(joint) - p.place(joint)).normalized();
    Truth t = p.truth(f, joint);
    t.kinds = {"wrong bend"};
    t.cause = "pivot or axis wrong";
    t.unit = "degrees";
    t.size = (40 + 50 * f.strength) * (p.chance() < 0.5 ? -1 : 1);
    const Quat turn(Eigen::AngleAxisd(radians(t.size), bone));
    const Quat before = rotationOf(p.c.skeleton.neutralWorld[joint]);
    p.c.skeleton.neutralWorld[joint].linear() = (turn * before).toRotationMatrix();
    const Quat after = rotationOf(p.c.skeleton.neutralWorld[joint]);
    for (Driver& d : p.c.drivers) { // what follows the joint goes on to follow the same turn
        if (d.source == joint)
            d.about = after.inverse() * (before * d.about);
        if (d.output != Driver::Output::Target && d.joint == joint)
            d.along = after.inverse() * (before * d.along);
    }
    t.size = std::abs(t.size);
    rebind(p.c);
    const Part& part = p.c.parts[p.body()];
    for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v)
        if (p.share(v, joint) > 0.3)
            p.touch(t, v);
    return t;
}

Truth plantRootScale(Patient& p, const Fault& f) {
    const double scale = f.strength < 0.5 ? 0.01 : 100;
    Truth t = p.truth(f, 0);
    t.detector = "inspect";
    t.kinds = {"transforms not applied"};
    t.unit = "scale";
    t.size = scale;
    for (Transform& w : p.c.skeleton.neutralWorld)
        w.linear() *= scale;
    rebind(p.c);
    return t;
}

} // namespace hobble::demo
