#include "core/compare/skin_difference.h"

#include <algorithm>
#include <map>

namespace hobble {

namespace {

Vec3d placed(const SkinPlace& p, const Subject& other, const std::vector<Vec3>& positions) {
    const Triangle& f = other.surface.triangles[p.triangle];
    return (p.share[0] * positions[f[0]] + p.share[1] * positions[f[1]] + p.share[2] * positions[f[2]])
        .cast<double>();
}

} // namespace

SkinDifference skinDifference(const Subject& one, const std::vector<Vec3>& posedOne, const Subject& other,
                              const std::vector<Vec3>& posedOther, const Pairing& p) {
    SkinDifference out;
    out.distance.assign(posedOne.size(), -1);
    if (p.by != PairedBy::SamePlace)
        return out;
    const Transform back = p.joints.toOther.inverse();
    const double counts = 0.001 * one.body.height;
    for (std::uint32_t v = 0; v < posedOne.size(); ++v) {
        if (!p.place[v].there())
            continue;
        const double d = (back * placed(p.place[v], other, posedOther) - posedOne[v].cast<double>()).norm();
        out.distance[v] = static_cast<float>(d);
        out.beyond += d > counts;
        if (out.distance[v] > out.farthest || out.at == SkinPlace::kNone) {
            out.farthest = out.distance[v];
            out.at = v;
        }
    }
    return out;
}

NeutralDifference neutralDifference(const Subject& one, const Subject& other, const Pairing& p) {
    NeutralDifference out;
    out.weights.assign(one.neutral.size(), 0);
    for (std::size_t part = 0; part < p.partOf.size(); ++part)
        if (p.partOf[part] < 0)
            out.partsWithout.push_back(static_cast<int>(part));
    const std::vector<Vec3>& theirs = other.neutral.vector();
    const Transform back = p.joints.toOther.inverse();
    const SkinWeights &mine = one.surface.weights, &held = other.surface.weights;
    for (std::uint32_t v = 0; v < one.neutral.size(); ++v) {
        const SkinPlace& place = p.place[v];
        if (!place.there()) {
            ++out.without;
            continue;
        }
        const double d = (back * placed(place, other, theirs) - one.neutral[v].cast<double>()).norm();
        out.farthest = std::max(out.farthest, d);
        out.moved += d > 1e-4 * one.body.height;
        std::map<int, float> difference; // by joint of the other; what it lacks is all different
        float sum = 0;
        for (std::uint32_t i = mine.first[v]; i < mine.first[v + 1]; ++i)
            if (const int joint = p.joints.other[mine.joint[i]]; joint >= 0)
                difference[joint] += mine.weight[i];
            else
                sum += mine.weight[i];
        const Triangle& f = other.surface.triangles[place.triangle];
        for (std::size_t k = 0; k < 3; ++k)
            for (std::uint32_t i = held.first[f[k]]; i < held.first[f[k] + 1]; ++i)
                difference[held.joint[i]] -= place.share[k] * held.weight[i];
        for (const auto& [joint, off] : difference)
            sum += std::abs(off);
        out.weights[v] = std::min(1.f, sum / 2);
        out.reweighted += out.weights[v] > 0.01f;
    }
    return out;
}

} // namespace hobble
