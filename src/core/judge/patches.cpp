#include "core/judge/patches.h"

#include <algorithm>
#include <unordered_map>

namespace hobble {

namespace {

// Groups of marked triangles that share a vertex, by flooding.
std::vector<std::vector<std::uint32_t>> touching(const Surface& surface,
                                                 const std::vector<std::uint32_t>& marked) {
    std::unordered_map<std::uint32_t, int> group; // triangle → group
    for (std::uint32_t t : marked)
        group.emplace(t, -1);
    std::vector<std::vector<std::uint32_t>> out;
    std::vector<std::uint32_t> stack;
    for (std::uint32_t start : marked) {
        if (group[start] >= 0)
            continue;
        const int id = static_cast<int>(out.size());
        out.emplace_back();
        group[start] = id;
        stack.push_back(start);
        while (!stack.empty()) {
            const std::uint32_t t = stack.back();
            stack.pop_back();
            out[id].push_back(t);
            for (std::uint32_t v : surface.triangles[t])
                for (auto n = surface.trianglesAt.begin(v); n != surface.trianglesAt.end(v); ++n)
                    if (auto it = group.find(*n); it != group.end() && it->second < 0) {
                        it->second = id;
                        stack.push_back(*n);
                    }
        }
        std::sort(out[id].begin(), out[id].end());
    }
    return out;
}

void strainPatches(const Subject& subject, const JointZone& zone, const std::vector<Strain>& strain,
                   Kind kind, double limit, double leastArea, std::vector<Patch>& out) {
    std::vector<std::uint32_t> marked;
    std::unordered_map<std::uint32_t, float> value;
    for (std::size_t i = 0; i < zone.triangles.size(); ++i) {
        const float x = kind == Kind::Stretch ? strain[i].stretch : strain[i].squash;
        if ((faultIsAbove(kind) ? x > limit : x < limit) && subject.surface.area[zone.triangles[i]] > 0) {
            marked.push_back(zone.triangles[i]);
            value.emplace(zone.triangles[i], x);
        }
    }
    for (auto& triangles : touching(subject.surface, marked)) {
        Patch patch;
        patch.kind = kind;
        std::vector<std::pair<float, float>> items; // badness, area
        for (std::uint32_t t : triangles) {
            patch.area += subject.surface.area[t];
            items.emplace_back(faultIsAbove(kind) ? -value[t] : value[t], subject.surface.area[t]);
        }
        if (patch.area < leastArea)
            continue;
        patch.value = std::abs(weightedQuantile(std::move(items), leastArea / patch.area));
        patch.triangles = std::move(triangles);
        out.push_back(std::move(patch));
    }
}

// Faults of the whole zone are marked on the skin that blends, a pinch on the ring it is tightest at.
Patch zonePatch(const Subject& subject, const JointZone& zone, Kind kind, double value,
                const std::vector<std::uint32_t>& vertices) {
    Patch patch;
    patch.kind = kind;
    patch.value = value;
    std::vector<char> in(subject.surface.vertexCount(), 0);
    for (std::uint32_t v : vertices)
        in[v] = 1;
    for (std::uint32_t t : zone.shellTriangles) {
        const Triangle& f = subject.surface.triangles[t];
        const int hit = in[f[0]] + in[f[1]] + in[f[2]];
        if (hit == 3 || (kind == Kind::Pinch && hit > 1)) {
            patch.triangles.push_back(t);
            patch.area += subject.surface.area[t];
        }
    }
    return patch;
}

} // namespace

std::vector<Patch> findPatches(const Subject& subject, const JointZone& zone, const ZoneMeasures& measures,
                               const std::vector<Strain>& strain, const Limits& limits) {
    std::vector<Patch> out;
    if (zone.empty())
        return out;
    const Role role = subject.roles[zone.joint].role;
    const double leastArea = limits.leastPatch * zone.area;
    for (Kind kind : {Kind::Stretch, Kind::Squash})
        strainPatches(subject, zone, strain, kind, limits.of(kind, role)[0], leastArea, out);
    for (Kind kind : {Kind::VolumeLoss, Kind::Bulge})
        if (measures.volume && severityOf(kind, *measures.volume, limits.of(kind, role)) > 0)
            out.push_back(zonePatch(subject, zone, kind, *measures.volume, zone.blendVertices));
    if (measures.pinch && severityOf(Kind::Pinch, *measures.pinch, limits.of(Kind::Pinch, role)) > 0) {
        std::vector<std::uint32_t> ring;
        for (std::size_t k = 0; k < measures.girth.size(); ++k)
            if (measures.girth[k] && *measures.girth[k] == *measures.pinch)
                for (const EdgePoint& e : zone.girth->stations[k].points) {
                    ring.push_back(e.a);
                    ring.push_back(e.b);
                }
        out.push_back(zonePatch(subject, zone, Kind::Pinch, *measures.pinch, ring));
    }
    return out;
}

} // namespace hobble
