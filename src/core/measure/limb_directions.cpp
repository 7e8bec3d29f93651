#include "core/measure/limb_directions.h"

#include <algorithm>

namespace hobble {

namespace {

constexpr double kDust = 0.05; // what two vertices hold in common below this does not tie them

// What holds either most mostly tells.
bool areTied(const SkinWeights& w, std::uint32_t a, std::uint32_t b) {
    const bool bound = w.first[a] < w.first[a + 1] && w.first[b] < w.first[b + 1];
    return !bound || w.joint[w.first[a]] == w.joint[w.first[b]] || weightShared(w, a, b) >= kDust;
}

} // namespace

SkinHeld skinHeld(const Skeleton& skeleton, const Surface& s, const std::vector<Vec3>& neutral) {
    SkinHeld held;
    const auto joints = static_cast<std::size_t>(skeleton.size());
    held.weight.assign(joints, 0);
    held.moment.assign(joints, Vec3d::Zero());
    for (std::uint32_t v = 0; v < s.vertexCount(); ++v)
        for (std::uint32_t i = s.weights.first[v]; i < s.weights.first[v + 1]; ++i) {
            if (s.weights.weight[i] < kLeastHeld) // dust turns no limb
                continue;
            held.weight[s.weights.joint[i]] += s.weights.weight[i];
            held.moment[s.weights.joint[i]] += s.weights.weight[i] * neutral[v].cast<double>();
        }
    held.below.resize(joints);
    for (std::uint32_t v = 0; v < s.vertexCount(); ++v)
        for (auto n = s.neighbours.begin(v); n != s.neighbours.end(v); ++n)
            if (*n > v && !areTied(s.weights, v, *n))
                held.hardEdges.push_back({v, *n});
    std::sort(held.hardEdges.begin(), held.hardEdges.end()); // a whole ring is in its own order
    for (std::size_t j = joints; j-- > 0;) {
        held.below[j] |= held.weight[j] > 0;
        if (const int parent = skeleton.parent[j]; parent >= 0)
            held.below[static_cast<std::size_t>(parent)] |= held.below[j];
    }
    return held;
}

int holderAbove(const Skeleton& skeleton, const SkinHeld& held, int joint) {
    const int parent = skeleton.parent[static_cast<std::size_t>(joint)];
    for (int up = parent; up >= 0; up = skeleton.parent[static_cast<std::size_t>(up)])
        if (static_cast<std::size_t>(up) < held.weight.size() &&
            held.weight[static_cast<std::size_t>(up)] > 0)
            return up;
    return parent;
}

LimbDirections limbDirections(const Skeleton& skeleton, const SkinHeld& held, double extent, int joint) {
    const double tiny = 1e-5 * std::max(extent, 1e-9);
    const auto place = [&](int j) { return Vec3d(skeleton.neutralWorld[j].translation()); };
    const auto skinned = [&](int parent) {
        std::vector<int> out;
        for (int k = parent + 1; k < skeleton.size(); ++k)
            if (skeleton.parent[k] == parent && held.below[k] && (place(k) - place(parent)).norm() > tiny)
                out.push_back(k);
        return out;
    };
    const Vec3d here = place(joint);
    LimbDirections d;
    Vec3d tip = Vec3d::Zero();
    const auto tips = skinned(joint);
    for (int k : tips)
        tip += (place(k) - here) / static_cast<double>(tips.size());
    if (tip.norm() <= tiny && held.weight[joint] > 0)
        tip = held.moment[joint] / held.weight[joint] - here;
    int up = skeleton.parent[joint];
    while (up >= 0 && (here - place(up)).norm() <= tiny)
        up = skeleton.parent[up];
    const Vec3d from = up >= 0 ? Vec3d(here - place(up)) : Vec3d::Zero();
    d.toTip = tip.norm() > tiny ? tip.normalized() : from.norm() > tiny ? from.normalized() : Vec3d::UnitY();
    const bool single = up >= 0 && from.norm() > tiny && skinned(up).size() == 1;
    d.fromParent = single ? from.normalized() : d.toTip;
    const Vec3d sum = d.fromParent + d.toTip;
    d.axis = sum.norm() > 0.2 ? sum.normalized() : d.toTip;
    return d;
}

} // namespace hobble
