#include "odd_builds.h"

#include <algorithm>
#include <cstdint>
#include <map>

namespace hobble::demo {

namespace {

using Shares = std::map<std::uint16_t, float>; // of one vertex

std::vector<Shares> sharesOf(const Character& c) {
    std::vector<Shares> out(c.vertexCount());
    for (std::size_t v = 0; v < out.size(); ++v)
        for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
            out[v][c.weights.joint[i]] += c.weights.weight[i];
    return out;
}

SkinWeights weightsOf(const std::vector<Shares>& shares) {
    std::vector<std::uint32_t> first{0};
    std::vector<std::uint16_t> joint;
    std::vector<float> weight, sums;
    for (const Shares& of : shares) {
        std::vector<std::pair<float, std::uint16_t>> order;
        for (const auto& [j, w] : of)
            order.emplace_back(-w, j);
        std::sort(order.begin(), order.end()); // the heaviest first
        float sum = 0;
        for (const auto& [w, j] : order) {
            joint.push_back(j);
            weight.push_back(-w);
            sum -= w;
        }
        first.push_back(static_cast<std::uint32_t>(joint.size()));
        sums.push_back(sum);
    }
    SkinWeights out;
    out.first = std::move(first);
    out.joint = std::move(joint);
    out.weight = std::move(weight);
    out.fileSum = std::move(sums);
    return out;
}

const Part& partCalled(const Character& c, const char* name) {
    return *std::find_if(c.parts.begin(), c.parts.end(), [&](const Part& p) { return p.name == name; });
}

// Every face of the coat turned over.
Character inwards(Character c) {
    const Part& coat = partCalled(c, "coat");
    for (std::uint32_t t = coat.firstTriangle; t < coat.firstTriangle + coat.triangleCount; ++t)
        std::swap(c.triangles[t][1], c.triangles[t][2]);
    return c;
}

// The last part, cut across, its two sides a hair apart.
Character unmerged(Character c) {
    const Part part = c.parts.back();
    const std::uint32_t end = part.firstVertex + part.vertexCount;
    float low = INFINITY, high = -INFINITY;
    for (std::uint32_t v = part.firstVertex; v < end; ++v) {
        low = std::min(low, c.neutral[v].y());
        high = std::max(high, c.neutral[v].y());
    }
    const float cut = (low + high) / 2;
    std::vector<char> below(c.vertexCount(), 0);
    const auto isAbove = [&](const Triangle& t) {
        return (c.neutral[t[0]].y() + c.neutral[t[1]].y() + c.neutral[t[2]].y()) / 3 > cut;
    };
    for (const Triangle& t : c.triangles.vector())
        if (!isAbove(t))
            for (std::uint32_t v : t)
                below[v] = 1;
    auto shares = sharesOf(c);
    std::vector<Vec3> neutral = c.neutral, bind = c.bindPosition, colour = c.colour;
    std::map<std::uint32_t, std::uint32_t> twin;
    for (Triangle& t : c.triangles) {
        if (t[0] < part.firstVertex || t[0] >= end || !isAbove(t))
            continue;
        for (std::uint32_t& v : t)
            if (below[v]) {
                const auto [it, fresh] = twin.try_emplace(v, static_cast<std::uint32_t>(neutral.size()));
                if (fresh) {
                    neutral.push_back(neutral[v] + Vec3(0, 2e-5f, 0));
                    bind.push_back(bind[v] + Vec3(0, 2e-5f, 0));
                    colour.push_back(colour[v]);
                    shares.push_back(shares[v]);
                }
                v = it->second;
            }
    }
    c.parts.back().vertexCount += static_cast<std::uint32_t>(twin.size());
    c.parts.back().targets.clear();
    c.parts.back().targetWeights.clear();
    c.neutral = std::move(neutral);
    c.bindPosition = std::move(bind);
    c.colour = std::move(colour);
    c.weights = weightsOf(shares);
    return c;
}

// All that a joint holds, its parent's.
Character weightless(Character c, const char* joint) {
    const int j = c.skeleton.find(joint), p = c.skeleton.parent[static_cast<std::size_t>(j)];
    auto shares = sharesOf(c);
    for (Shares& of : shares)
        if (const auto it = of.find(static_cast<std::uint16_t>(j)); it != of.end()) {
            of[static_cast<std::uint16_t>(p)] += it->second;
            of.erase(it);
        }
    c.weights = weightsOf(shares);
    return c;
}

// An arm left raised.
Character leftPosed(Character c) {
    Skeleton& sk = c.skeleton;
    sk.restWorld = sk.neutralWorld;
    const int arm = sk.find("upper_arm.L");
    const std::vector<char> below = sk.subtree(arm);
    const Vec3d at = sk.place(arm);
    const Transform turn =
        Eigen::Translation3d(at) * Eigen::AngleAxisd(-0.9, Vec3d::UnitZ()) * Eigen::Translation3d(-at);
    for (int j = 0; j < sk.size(); ++j)
        if (below[static_cast<std::size_t>(j)])
            sk.restWorld[static_cast<std::size_t>(j)] = turn * sk.restWorld[static_cast<std::size_t>(j)];
    return c;
}

Character scaled(Character c) {
    Transform& head = c.skeleton.neutralLocal[static_cast<std::size_t>(c.skeleton.find("head"))];
    head.linear() *= 1.4;
    return c;
}

// Every vertex of the body and what it wears follows the joint that holds most of it.
Character withoutBlend(Character c) {
    auto shares = sharesOf(c);
    for (Shares& of : shares)
        if (of.size() > 1) {
            const auto most = std::max_element(
                of.begin(), of.end(), [](const auto& a, const auto& b) { return a.second < b.second; });
            of = {{most->first, 1.0f}};
        }
    c.weights = weightsOf(shares);
    return c;
}

// A hand that hangs at the root, though its skin goes on from the arm.
Character handElsewhere(Character c) {
    Skeleton& sk = c.skeleton;
    const auto hand = static_cast<std::size_t>(sk.find("hand.L"));
    sk.parent[hand] = 0;
    sk.neutralLocal[hand] = sk.neutralWorld[0].inverse() * sk.neutralWorld[hand];
    sk.restWorld.clear();
    return c;
}

// Another character beside it, in the same file.
Character two(Character c, const Character& other) {
    const auto joints = static_cast<std::uint16_t>(c.skeleton.size());
    const auto vertices = static_cast<std::uint32_t>(c.vertexCount()),
               triangles = static_cast<std::uint32_t>(c.triangles.size());
    const Vec3 aside(0.75f * static_cast<float>(c.extent()), 0, 0);
    const Transform moved(Eigen::Translation3d(aside.cast<double>()));
    const Skeleton& from = other.skeleton;
    for (int j = 0; j < from.size(); ++j) {
        const auto i = static_cast<std::size_t>(j);
        c.skeleton.name.push_back("second_" + from.name[i]);
        c.skeleton.parent.push_back(from.parent[i] < 0 ? -1 : from.parent[i] + joints);
        c.skeleton.neutralLocal.push_back(from.parent[i] < 0 ? moved * from.neutralLocal[i]
                                                             : from.neutralLocal[i]);
        c.skeleton.neutralWorld.push_back(moved * from.neutralWorld[i]);
    }
    c.skeleton.restWorld.clear();
    c.skeleton.humanoidBone.clear();
    auto shares = sharesOf(c);
    for (const Shares& of : sharesOf(other)) {
        Shares own;
        for (const auto& [j, w] : of)
            own[static_cast<std::uint16_t>(j + joints)] = w;
        shares.push_back(own);
    }
    std::vector<Vec3> neutral = c.neutral, colour = c.colour;
    for (const Vec3& p : other.neutral)
        neutral.push_back(p + aside);
    colour.insert(colour.end(), other.colour.begin(), other.colour.end());
    std::vector<Triangle> all = c.triangles;
    for (Triangle t : other.triangles.vector()) {
        for (std::uint32_t& v : t)
            v += vertices;
        all.push_back(t);
    }
    std::vector<Part> parts = c.parts;
    for (Part p : other.parts.vector()) {
        p.firstVertex += vertices;
        p.firstTriangle += triangles;
        p.skin = -1;
        p.carrier = p.carrier < 0 ? -1 : p.carrier + joints;
        parts.push_back(std::move(p));
    }
    for (Part& p : parts) {
        p.skin = p.skin < 0 && !p.skinned ? -1 : 0;
        p.targets.clear();
        p.targetWeights.clear();
    }
    Skin skin; // bound where they stand
    for (const Transform& t : c.skeleton.neutralWorld)
        skin.inverseBind.push_back(t.inverse());
    skin.bound.assign(c.skeleton.neutralWorld.size(), 1);
    c.skins = {skin};
    c.bindPosition = neutral;
    c.neutral = std::move(neutral);
    c.colour = std::move(colour);
    c.triangles = std::move(all);
    c.parts = std::move(parts);
    c.weights = weightsOf(shares);
    c.textureOf = {};
    c.cornerUv = {};
    c.drivers.clear();
    c.clips = {};
    return c;
}

} // namespace

std::vector<OddBuild> oddBuilds(const Character& badger, const Character& other) {
    return {{"check-faces-that-look-inwards", inwards(badger)},
            {"check-unmerged-vertices", unmerged(badger)},
            {"check-joint-with-no-weight", weightless(badger, "forearm.L")},
            {"check-bind-pose-is-not-the-rest-pose", leftPosed(badger)},
            {"check-transforms-not-applied", scaled(badger)},
            {"check-several-characters-in-one-file", two(badger, other)},
            {"cause-bound-without-a-blend", withoutBlend(badger)},
            {"cause-limb-that-does-not-follow", handElsewhere(badger)}};
}

} // namespace hobble::demo
