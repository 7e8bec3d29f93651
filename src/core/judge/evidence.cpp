#include "core/judge/evidence.h"

#include "core/measure/follow.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace hobble {

namespace {

Vec3d place(const Subject& s, int joint) { return s.character->skeleton.neutralWorld[joint].translation(); }

std::vector<std::uint32_t> markedVertices(const Subject& s, const Finding& f) {
    std::set<std::uint32_t> out;
    for (std::uint32_t t : f.triangles)
        out.insert(s.surface.triangles[t].begin(), s.surface.triangles[t].end());
    return {out.begin(), out.end()};
}

} // namespace

BlendShape blendShape(const Subject& s, int joint) {
    BlendShape b;
    const JointZone& zone = s.zones[joint];
    if (zone.empty() || zone.limbRadius <= 0 || zone.shell < 0)
        return b;
    const Surface& f = s.surface;
    const std::vector<float> follow = following(f, followShares(*s.character, joint));
    const Vec3d here = place(s, joint);
    double sum = 0, first = 0, second = 0;
    Vec3d blending = Vec3d::Zero();
    double crossing = 0, change = 0, crossingLength = 0, plain = 0, plainLength = 0;
    for (std::uint32_t v : zone.vertices) {
        if (f.shellOf[v] != zone.shell)
            continue;
        double area = 0;
        for (auto t = f.trianglesAt.begin(v); t != f.trianglesAt.end(v); ++t)
            area += f.area[*t] / 3;
        const double c = follow[v], w = 4 * c * (1 - c) * area;
        const double along = zone.axis.dot(s.neutral[v].cast<double>() - here) / zone.limbRadius;
        sum += w;
        blending += w * s.neutral[v].cast<double>();
        first += w * along;
        second += w * along * along;
        for (auto n = f.neighbours.begin(v); n != f.neighbours.end(v); ++n) {
            if (*n < v)
                continue;
            const Vec3d e = (s.neutral[*n] - s.neutral[v]).cast<double>();
            const double length = e.norm();
            if (length <= 0 || std::abs(e.dot(zone.axis)) < 0.6 * length)
                continue; // only edges that lead along the limb cross the blend
            if ((c < 0.5) != (follow[*n] < 0.5)) {
                ++crossing;
                change += std::abs(c - follow[*n]);
                crossingLength += length;
            } else if (std::abs(c - follow[*n]) < 0.1) {
                ++plain;
                plainLength += length;
            }
        }
    }
    if (sum <= 0)
        return b;
    const double mean = first / sum;
    b.width = 2 * std::sqrt(3.0) * std::sqrt(std::max(0.0, second / sum - mean * mean));
    b.perEdge = crossing > 0 ? change / crossing : 0;
    b.edge = crossing > 0 && plain > 0 && plainLength > 0
                 ? (crossingLength / crossing) / (plainLength / plain)
                 : 1;
    b.offBlend = (here - blending / sum).norm() / zone.limbRadius;
    b.edgeRadii = crossing > 0 ? crossingLength / crossing / zone.limbRadius : 0;
    if (auto loop = sectionAround(f, zone.shellTriangles, s.neutral,
                                  here + mean * zone.limbRadius * zone.axis, zone.axis)) {
        Vec3d middle = Vec3d::Zero();
        for (const EdgePoint& e : *loop)
            middle += (s.neutral[e.a] + e.t * (s.neutral[e.b] - s.neutral[e.a])).cast<double>() /
                      static_cast<double>(loop->size());
        Vec3d d = here - middle;
        d -= d.dot(zone.axis) * zone.axis;
        b.offCentre = d.norm() / std::sqrt(sectionArea(*loop, s.neutral) / kPi);
    } else { // no cut closes around it: it lies outside, or at a branching; the blend's own middle says how
             // far
        Vec3d middle = Vec3d::Zero();
        double n = 0;
        for (std::uint32_t v : zone.blendVertices)
            if (f.shellOf[v] == zone.shell) {
                middle += s.neutral[v].cast<double>();
                ++n;
            }
        Vec3d d = here - middle / std::max(n, 1.0);
        d -= d.dot(zone.axis) * zone.axis;
        b.offCentre = d.norm() / zone.limbRadius;
    }
    b.known = true;
    return b;
}

bool lessNatural(const BlendShape& blend, const BlendShape& mirror) {
    // By how steep they are at their middle: over how many limb radii the weight would pass at that rate.
    constexpr double good = 1.5;
    const auto off = [](const BlendShape& b) {
        const double passage = b.perEdge > 0 ? b.edgeRadii / b.perEdge : b.width;
        return std::abs(std::log(std::max(passage, 1e-3) / good));
    };
    return off(blend) > off(mirror);
}

double garmentDifference(const Subject& s, const Finding& f) {
    std::set<std::uint32_t> marked(f.triangles.begin(), f.triangles.end());
    const std::vector<std::uint32_t> vertices = markedVertices(s, f);
    double sum = 0, count = 0;
    for (const Covered& c : s.cover->covered) {
        if (!std::binary_search(vertices.begin(), vertices.end(), c.vertex) && !marked.count(c.triangle))
            continue;
        std::map<int, double> difference;
        const SkinWeights& w = s.surface.weights;
        for (std::uint32_t i = w.first[c.vertex]; i < w.first[c.vertex + 1]; ++i)
            difference[w.joint[i]] += w.weight[i];
        for (std::uint32_t v : s.surface.triangles[c.triangle])
            for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i)
                difference[w.joint[i]] -= w.weight[i] / 3;
        double half = 0;
        for (const auto& [j, d] : difference)
            half += std::abs(d) / 2;
        sum += half;
        ++count;
    }
    return count > 0 ? sum / count : -1;
}

double heldBack(const Subject& s, const Finding& f) {
    const JointZone& zone = s.zones[f.joint];
    if (zone.empty() || zone.limbRadius <= 0)
        return 0;
    const std::vector<float> follow = following(s.surface, followShares(*s.character, f.joint));
    const std::vector<std::uint32_t> marked = markedVertices(s, f);
    const Vec3d here = place(s, f.joint);
    auto along = [&](std::uint32_t v) {
        return zone.axis.dot(s.neutral[v].cast<double>() - here) / zone.limbRadius;
    };
    std::set<std::uint32_t> shells;
    for (std::uint32_t v : marked)
        shells.insert(s.surface.shellOf[v]);
    // Slices along the limb; what three fifths of the skin in a slice and its three neighbours on either side
    // follow by, at least, is what the limb does there.
    constexpr double slice = 0.04;
    std::map<int, std::vector<float>> slices;
    for (std::uint32_t v : zone.vertices)
        if (shells.count(s.surface.shellOf[v]))
            slices[static_cast<int>(std::floor(along(v) / slice))].push_back(follow[v]);
    std::map<int, float> usual;
    std::vector<float> beside;
    for (const auto& [at, own] : slices) {
        beside.clear();
        for (auto it = slices.lower_bound(at - 3); it != slices.end() && it->first <= at + 3; ++it)
            beside.insert(beside.end(), it->second.begin(), it->second.end());
        if (beside.size() < 6)
            continue;
        const auto rank = beside.begin() + static_cast<std::ptrdiff_t>(beside.size() * 3 / 5);
        std::nth_element(beside.begin(), rank, beside.end());
        usual[at] = *rank;
    }
    double most = 0;
    std::vector<double> behind;
    for (std::uint32_t v : marked)
        if (const auto it = usual.find(static_cast<int>(std::floor(along(v) / slice))); it != usual.end())
            behind.push_back(it->second - follow[v]);
    if (behind.size() < 3)
        return 0;
    std::sort(behind.rbegin(), behind.rend());
    most = behind[behind.size() / 5]; // a fifth of the marked skin is at least that far behind
    return std::clamp(most, 0.0, 1.0);
}

} // namespace hobble
