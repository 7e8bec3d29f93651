#include "core/judge/matching.h"

#include <algorithm>
#include <cmath>
#include <set>
#include <tuple>

namespace hobble {

FindingMark markOf(const Subject& s, const Finding& f) {
    FindingMark out;
    out.joint = s.character->skeleton.name[f.joint];
    out.kind = f.kind;
    const double height = std::max(s.body.height, 1e-9);
    const Vec3d away = f.place.cast<double>() - s.character->skeleton.neutralWorld[f.joint].translation();
    out.place = Vec3d(away.dot(s.body.left), away.dot(s.body.up), away.dot(s.body.forward)) / height;
    double area = 0;
    for (std::uint32_t t : f.triangles)
        area += s.surface.area[t];
    // As far as a round patch of that area goes, and never less than the limb is thick: a patch's middle
    // wanders.
    out.reach = std::max(std::sqrt(area / kPi), s.zones[f.joint].limbRadius) / height;
    return out;
}

double apartness(const FindingMark& a, const FindingMark& b) {
    if (a.kind != b.kind || a.joint != b.joint)
        return INFINITY;
    const double reach = std::max({a.reach, b.reach, 1e-3});
    return (a.place - b.place).norm() / reach;
}

std::vector<int> matchFindings(const std::vector<FindingMark>& now, const std::vector<FindingMark>& before) {
    std::vector<std::tuple<double, int, int>> pairs;
    for (std::size_t i = 0; i < now.size(); ++i)
        for (std::size_t j = 0; j < before.size(); ++j)
            if (const double d = apartness(now[i], before[j]); d <= 1)
                pairs.emplace_back(d, static_cast<int>(i), static_cast<int>(j));
    std::sort(pairs.begin(), pairs.end());
    std::vector<int> out(now.size(), -1);
    std::set<int> given;
    for (const auto& [d, i, j] : pairs)
        if (out[static_cast<std::size_t>(i)] < 0 && given.insert(j).second)
            out[static_cast<std::size_t>(i)] = j;
    return out;
}

} // namespace hobble
