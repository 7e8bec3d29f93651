// Faults in skin weights.
#include "faults.h"

#include "core/character/surface.h"

#include <algorithm>
#include <cmath>

namespace hobble::demo {

namespace {

// A joint that has no business at `home`: far along the tree, or on the other side of the body.
int intruder(Patient& p, const Fault& f, int home, bool across) {
    if (!f.from.empty())
        return p.joint(f.from);
    std::vector<int> out;
    for (int j : p.movers()) {
        const bool other = p.roles[j].side != Side::Middle && p.roles[home].side != Side::Middle &&
                           p.roles[j].side != p.roles[home].side;
        if (across ? other
                   : !other && p.c.skeleton.boneDistance(home, j) >= 4 && !p.c.skeleton.subtree(j)[home])
            out.push_back(j);
    }
    return p.pick(out);
}

int where(Patient& p, const Fault& f, const std::vector<int>& from) {
    return f.joint.empty() ? p.pick(from) : p.joint(f.joint);
}

// For each kept share of what follows a joint, the smoothed one.
std::map<std::uint32_t, double> widened(const Patient& p, int joint, int passes) {
    const Part& part = p.c.parts[p.body()];
    std::vector<double> follow(part.vertexCount);
    for (std::uint32_t v = 0; v < part.vertexCount; ++v)
        follow[v] = p.following(part.firstVertex + v, joint);
    std::vector<std::set<std::uint32_t>> around(part.vertexCount);
    for (std::uint32_t t = part.firstTriangle; t < part.firstTriangle + part.triangleCount; ++t)
        for (int k = 0; k < 3; ++k) {
            const std::uint32_t a = p.c.triangles[t][k] - part.firstVertex,
                                b = p.c.triangles[t][(k + 1) % 3] - part.firstVertex;
            around[a].insert(b);
            around[b].insert(a);
        }
    for (int pass = 0; pass < passes; ++pass) {
        auto next = follow;
        for (std::size_t v = 0; v < follow.size(); ++v)
            if (!around[v].empty()) {
                double sum = 0;
                for (std::uint32_t o : around[v])
                    sum += follow[o];
                next[v] = 0.3 * follow[v] + 0.7 * sum / static_cast<double>(around[v].size());
            }
        follow = std::move(next);
    }
    std::map<std::uint32_t, double> out;
    for (std::uint32_t v = 0; v < part.vertexCount; ++v)
        out[part.firstVertex + v] = follow[v];
    return out;
}

} // namespace

Truth plantStray(Patient& p, const Fault& f) {
    const bool across = f.fault == "influence across the body";
    std::vector<int> homes;
    for (int j : p.movers({Role::Shoulder, Role::Elbow, Role::Hip, Role::Knee, Role::Wrist, Role::Ankle,
                           Role::Neck, Role::Spine, Role::Head, Role::Jaw, Role::Fetlock}))
        if (!across || p.roles[j].side != Side::Middle)
            homes.push_back(j);
    if (across && homes.empty()) // a face: brows and lips are what has sides
        homes = p.movers({Role::Brow, Role::Lip, Role::Lid});
    int home = where(p, f, homes);
    if (across && f.joint.empty() && p.roles[home].side == Side::Middle)
        home = where(p, f, p.movers({Role::Lid}));
    int from = -1;
    for (int attempt = 0; attempt < 20 && from < 0; ++attempt)
        try {
            from = intruder(p, f, home, across);
        } catch (const Unsuited&) {
            if (!across) // on a short tree the farthest joint has to do
                for (int j : p.movers())
                    if (j != home && !p.c.skeleton.subtree(j)[home] &&
                        (from < 0 ||
                         p.c.skeleton.boneDistance(home, j) > p.c.skeleton.boneDistance(home, from)))
                        from = j;
            if (from < 0)
                throw;
        }
    Truth t = p.truth(f, from);
    t.joints = {p.name(home)};
    t.kinds = {"leak", "stretch", "squash", "roughness", "spike"};
    t.cause = "stray influence";
    t.unit = "weight";
    const double reach = p.radius(home) * (0.7 + 0.5 * p.chance());
    for (const auto& [v, out] : p.patch(p.vertexHeldBy(home), reach)) {
        const double share = (0.25 + 0.6 * f.strength) * (1 - out * out);
        if (share < 0.01)
            continue;
        for (auto& w : p.weights[v])
            w.second *= 1 - share;
        p.weights[v].push_back({from, share});
        t.size = std::max(t.size, share);
        p.touch(t, v);
    }
    return t;
}

Truth plantFlyingVertex(Patient& p, const Fault& f) {
    const int home = where(p, f,
                           p.movers({Role::Shoulder, Role::Elbow, Role::Hip, Role::Knee, Role::Wrist,
                                     Role::Ankle, Role::Neck, Role::Head, Role::Fetlock}));
    std::vector<int> far;
    for (int j : p.movers())
        if (!p.c.skeleton.subtree(j)[home] && j != home)
            far.push_back(j);
    std::stable_sort(far.begin(), far.end(), [&](int a, int b) {
        return p.c.skeleton.boneDistance(home, a) > p.c.skeleton.boneDistance(home, b);
    });
    far.resize(std::min<std::size_t>(far.size(), 4));
    const int from = f.from.empty() ? p.pick(far) : p.joint(f.from);
    const std::uint32_t v = p.vertexHeldBy(home);
    Truth t = p.truth(f, from);
    t.joints = {p.name(home)};
    t.kinds = {"spike", "leak", "stretch", "roughness"};
    t.cause = "stray influence";
    t.unit = "weight";
    t.size = 0.5 + 0.5 * f.strength;
    for (std::uint32_t o = 0; o < p.c.vertexCount(); ++o)
        if (p.partOf(o) == p.partOf(v) && (p.c.neutral[o] - p.c.neutral[v]).norm() < 1e-6f) {
            for (auto& w : p.weights[o])
                w.second *= 1 - t.size;
            p.weights[o].push_back({from, t.size});
            p.touch(t, o);
        }
    return t;
}

Truth plantBlend(Patient& p, const Fault& f) {
    const bool hard = f.fault == "blend too hard";
    const int joint = where(p, f,
                            p.movers({Role::Shoulder, Role::Elbow, Role::Hip, Role::Knee, Role::Wrist,
                                      Role::Ankle, Role::Neck, Role::Head, Role::Fetlock, Role::Jaw}));
    std::vector<int> joints{joint};
    if (f.bothSides && p.roles[joint].mirror >= 0)
        joints.push_back(p.roles[joint].mirror);
    Truth t = p.truth(f, joint);
    t.kinds = hard ? std::vector<std::string>{"squash", "stretch", "roughness",    "pinch", "volume loss",
                                              "flip",   "contact", "poke-through", "gap",   "lag"}
                   : std::vector<std::string>{"pinch", "volume loss", "squash",       "stretch", "bulge",
                                              "leak",  "roughness",   "poke-through", "gap",     "lag"};
    t.cause = hard ? "blend too hard" : "blend too wide";
    t.unit = "weight";
    if (joints.size() > 1)
        t.joints = {p.name(joints[1])};
    else if (p.roles[joint].mirror >= 0)
        t.kinds.push_back("one-sided");
    const Part& part = p.c.parts[p.body()];
    for (int j : joints) {
        const auto wide =
            hard ? std::map<std::uint32_t, double>{} : widened(p, j, 30 + static_cast<int>(170 * f.strength));
        for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v) {
            const double before = p.following(v, j);
            double after = before;
            if (hard) {
                const double k = 3 + 15 * f.strength, a = std::pow(before, k), b = std::pow(1 - before, k);
                after = before <= 0 || before >= 1 ? before : a / (a + b);
            } else {
                after = wide.at(v);
            }
            if (std::abs(after - before) < 0.01)
                continue;
            p.setFollowing(v, j, after);
            t.size = std::max(t.size, std::abs(after - before));
            p.touch(t, v);
        }
    }
    return t;
}

Truth plantHeldByParent(Patient& p, const Fault& f) {
    const int joint = where(p, f,
                            p.movers({Role::Elbow, Role::Knee, Role::Wrist, Role::Ankle, Role::Head,
                                      Role::Fetlock, Role::Neck, Role::Jaw}));
    int parent = p.above(joint);
    while (parent >= 0 && p.roles[parent].role == Role::Twist)
        parent = p.above(parent);
    Truth t = p.truth(f, joint);
    t.kinds = {"stretch", "squash",  "roughness",    "pinch", "volume loss", "bulge",
               "flip",    "contact", "poke-through", "gap",   "lag",         "leak"};
    t.cause = "held by the parent";
    t.unit = "weight";
    for (const auto& [v, out] : p.patch(p.vertexHeldBy(joint), 1.3 * p.radius(joint))) {
        const double share = (0.4 + 0.6 * f.strength) * std::pow(1 - out * out, 0.5);
        const auto below = p.c.skeleton.subtree(joint);
        double moved = 0;
        for (auto& [j, held] : p.weights[v])
            if (below[j]) {
                moved += share * held;
                held *= 1 - share;
            }
        if (moved < 0.01)
            continue;
        p.weights[v].push_back({parent, moved});
        t.size = std::max(t.size, moved);
        p.touch(t, v);
    }
    return t;
}

// A patch that the painter never reached: what binds first, high up the tree, holds it still.
Truth plantLeftBehind(Patient& p, const Fault& f) {
    const int home = where(p, f,
                           p.movers({Role::Elbow, Role::Wrist, Role::Knee, Role::Ankle, Role::Fetlock,
                                     Role::Head, Role::Finger}));
    int top = f.from.empty() ? home : p.joint(f.from);
    while (f.from.empty() && p.c.skeleton.parent[top] >= 0)
        top = p.c.skeleton.parent[top];
    Truth t = p.truth(f, home);
    t.joints = {p.name(top)};
    t.kinds = {"leak",        "stretch", "squash", "roughness", "spike",
               "volume loss", "pinch",   "flip",   "lag",       "one-sided"};
    t.cause = "patch left behind";
    t.unit = "weight";
    for (const auto& [v, out] : p.patch(p.vertexHeldBy(home), (0.6 + 0.6 * p.chance()) * p.radius(home))) {
        const double share = (0.4 + 0.6 * f.strength) * std::sqrt(1 - out * out);
        if (share < 0.01)
            continue;
        for (auto& w : p.weights[v])
            w.second *= 1 - share;
        p.weights[v].push_back({top, share});
        t.size = std::max(t.size, share);
        p.touch(t, v);
    }
    return t;
}

// A finger's skin that goes in part with the finger beside it.
Truth plantNeighbourFinger(Patient& p, const Fault& f) {
    const int home = where(p, f, p.movers({Role::Finger, Role::Thumb}));
    int from = f.from.empty() ? -1 : p.joint(f.from);
    for (int j : p.movers({Role::Finger, Role::Thumb})) {
        const auto &a = p.roles[j], &b = p.roles[home];
        if (f.from.empty() && a.side == b.side && a.digit != b.digit && a.segment == b.segment &&
            (from < 0 || (p.place(j) - p.place(home)).norm() < (p.place(from) - p.place(home)).norm()))
            from = j;
    }
    if (from < 0)
        throw Unsuited{"there is no finger beside another"};
    Truth t = p.truth(f, from);
    t.joints = {p.name(home)};
    for (int j = 0; j < p.c.skeleton.size(); ++j) // of the two fingers
        if (p.c.skeleton.subtree(home)[j] || p.c.skeleton.subtree(from)[j] || p.above(home) == j ||
            p.above(from) == j)
            t.joints.push_back(p.name(j));
    t.kinds = {"leak", "stretch",     "squash", "roughness", "spike",
               "lag",  "volume loss", "pinch",  "one-sided", "contact"};
    t.cause = "neighbour finger bleeds in";
    t.unit = "weight";
    const auto below = p.c.skeleton.subtree(home);
    for (std::uint32_t v = 0; v < p.c.vertexCount(); ++v) {
        const double held = p.shareBelow(v, below);
        if (held < 0.3)
            continue;
        const double share = (0.15 + 0.45 * f.strength) * held;
        for (auto& w : p.weights[v])
            w.second *= 1 - share;
        p.weights[v].push_back({from, share});
        t.size = std::max(t.size, share);
        p.touch(t, v);
    }
    if (t.vertices.empty())
        throw Unsuited{"the finger holds no skin"};
    return t;
}

Truth plantSums(Patient& p, const Fault& f) {
    const int joint = where(p, f, p.movers());
    Truth t = p.truth(f, joint);
    t.detector = "inspect";
    t.kinds = {"weights that do not sum to 1"};
    t.unit = "weight";
    t.size = 0.1 + 0.4 * f.strength;
    for (const auto& [v, out] : p.patch(p.vertexHeldBy(joint), 1.5 * p.radius(joint))) {
        for (auto& w : p.weights[v])
            w.second *= 1 - t.size;
        p.touch(t, v);
    }
    return t;
}

Truth plantNegligible(Patient& p, const Fault& f) {
    Truth t = p.truth(f, -1);
    t.detector = "inspect";
    t.kinds = {"negligible weights"};
    t.unit = "weight";
    t.size = 0.0008;
    const Part& part = p.c.parts[p.body()];
    const auto joints = p.movers();
    for (std::uint32_t k = 0; k < 300 + 700 * f.strength; ++k) {
        const std::uint32_t v = part.firstVertex + std::uniform_int_distribution<std::uint32_t>(
                                                       0, part.vertexCount - 1)(p.random);
        const int j = p.pick(joints);
        if (p.share(v, j) > 0)
            continue;
        for (auto& w : p.weights[v])
            w.second *= 1 - t.size;
        p.weights[v].push_back({j, t.size});
        p.touch(t, v);
    }
    return t;
}

Truth plantManyInfluences(Patient& p, const Fault& f) {
    const int joint = where(p, f, p.movers());
    Truth t = p.truth(f, joint);
    t.detector = "inspect";
    t.kinds = {"too many influences"};
    t.unit = "influences";
    std::vector<int> near;
    for (int j = 0; j < p.c.skeleton.size(); ++j)
        if (j != joint && p.c.skeleton.boneDistance(j, joint) >= 0)
            near.push_back(j);
    std::stable_sort(near.begin(), near.end(), [&](int a, int b) {
        return p.c.skeleton.boneDistance(a, joint) < p.c.skeleton.boneDistance(b, joint);
    });
    for (const auto& [v, out] : p.patch(p.vertexHeldBy(joint), 1.2 * p.radius(joint))) {
        const int wanted = 5 + static_cast<int>(3 * f.strength);
        for (int j : near) {
            if (static_cast<int>(p.weights[v].size()) >= wanted)
                break;
            if (p.share(v, j) > 0)
                continue;
            for (auto& w : p.weights[v])
                w.second *= 1 - 0.012;
            p.weights[v].push_back({j, 0.012});
        }
        t.size = std::max(t.size, static_cast<double>(p.weights[v].size()));
        p.touch(t, v);
    }
    return t;
}

Truth plantEndJoint(Patient& p, const Fault& f) {
    std::vector<int> ends;
    for (int j = 0; j < p.c.skeleton.size(); ++j)
        if (p.roles[j].role == Role::End)
            ends.push_back(j);
    const int end = where(p, f, ends), above = p.above(end);
    Truth t = p.truth(f, end);
    t.detector = "inspect";
    t.kinds = {"weights on an end joint"};
    t.unit = "weight";
    t.size = 0.2 + 0.7 * f.strength;
    for (std::uint32_t v = 0; v < p.c.vertexCount(); ++v)
        if (p.share(v, above) > 0.3 &&
            (p.c.neutral[v].cast<double>() - p.place(end)).norm() < 1.6 * p.radius(above)) {
            hand(p.weights[v], above, end, t.size);
            p.touch(t, v);
        }
    if (t.vertices.empty())
        throw Unsuited{"no skin lies near the end joint"};
    return t;
}

Truth plantNoWeight(Patient& p, const Fault& f) {
    const int joint = where(p, f,
                            p.movers({Role::Elbow, Role::Wrist, Role::Knee, Role::Ankle, Role::Toe,
                                      Role::Finger, Role::Neck, Role::Fetlock, Role::Collarbone}));
    Truth t = p.truth(f, joint);
    t.detector = "inspect";
    t.kinds = {"joint with no weight"};
    t.unit = "weight";
    t.size = 1;
    for (std::uint32_t v = 0; v < p.c.vertexCount(); ++v)
        if (p.share(v, joint) > 0) {
            hand(p.weights[v], joint, p.above(joint), 1);
            std::erase_if(p.weights[v], [&](const auto& w) { return w.first == joint; });
            p.touch(t, v);
        }
    return t;
}

} // namespace hobble::demo
