// Parts and vertices that nothing moves, and seams that will crack.
#include "core/intake/collect.h"

#include <cmath>

namespace hobble {

CheckFindings checkUnboundParts(const Subject& s, const IntakeLimits&) {
    const Character& c = *s.character;
    CheckFindings out;
    if (c.skeleton.size() == 0)
        return out;
    for (std::size_t p = 0; p < c.parts.size(); ++p) {
        const Part& part = c.parts[p];
        std::uint32_t held = 0;
        for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v)
            held += c.weights.first[v] != c.weights.first[v + 1];
        if (held > 0)
            continue;
        CheckFinding f{"part bound to nothing",
                       4,
                       -1,
                       static_cast<int>(p),
                       {},
                       0,
                       "'" + part.name + "' is bound to no joint: it stays behind when the character moves.",
                       "Bind it, rigidly if it must not bend, to the joint it sits on."};
        for (std::uint32_t v = 0; v < part.vertexCount; ++v) {
            if (f.vertices.empty())
                f.vertices.push_back({static_cast<int>(p), {}});
            f.vertices[0].second.push_back(v);
        }
        out.push_back(std::move(f));
    }
    return out;
}

CheckFindings checkUnweightedVertices(const Subject& s, const IntakeLimits&) {
    const Character& c = *s.character;
    CheckFindings out;
    for (std::size_t p = 0; p < c.parts.size(); ++p) {
        const Part& part = c.parts[p];
        Places places(c);
        for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v)
            if (c.weights.first[v] == c.weights.first[v + 1])
                places.add(v);
        const std::size_t n = places.count();
        if (n == 0 || n == part.vertexCount)
            continue;
        out.push_back({"vertices with no weight", 4, -1, static_cast<int>(p), places.take(),
                       static_cast<double>(n),
                       words("%zu vertices of '%s' have no weight and stay behind.", n, part.name.c_str()),
                       "Give them the weights of their neighbours."});
    }
    return out;
}

CheckFindings checkCrackingSeams(const Subject& s, const IntakeLimits&) {
    const Character& c = *s.character;
    const Surface& f = s.surface;
    Places places(c);
    double worst = 0;
    std::map<int, double> at;
    for (std::size_t w = 0; w < f.vertexCount(); ++w) {
        if (f.members.count(w) < 2)
            continue;
        std::map<int, std::pair<float, float>> range;
        for (auto m = f.members.begin(w); m != f.members.end(w); ++m) {
            std::map<int, float> own;
            for (std::uint32_t i = c.weights.first[*m]; i < c.weights.first[*m + 1]; ++i)
                own[c.weights.joint[i]] += c.weights.weight[i];
            for (auto& [j, r] : range)
                if (!own.count(j))
                    r.first = 0;
            for (const auto& [j, x] : own) {
                auto [it, fresh] = range.try_emplace(j, m == f.members.begin(w) ? x : 0.f, x);
                it->second = {std::min(it->second.first, x), std::max(it->second.second, x)};
            }
        }
        double apart = 0;
        int joint = -1;
        for (const auto& [j, r] : range)
            if (r.second - r.first > apart) {
                apart = r.second - r.first;
                joint = j;
            }
        if (apart < 0.01)
            continue;
        worst = std::max(worst, apart);
        at[joint] += apart;
        for (auto m = f.members.begin(w); m != f.members.end(w); ++m)
            places.add(*m);
    }
    if (!places.count())
        return {};
    const int joint = std::max_element(at.begin(), at.end(), [](const auto& a, const auto& b) {
                          return a.second < b.second;
                      })->first;
    const std::size_t n = places.count();
    return {{"seam that cracks", worst > 0.1 ? 4 : 3, joint, -1, places.take(), worst,
             words("%zu vertices lie on one another but are weighted differently, by up to %.0f %%: the skin "
                   "cracks open there, "
                   "most at %s.",
                   n, 100 * worst, c.skeleton.name[joint].c_str()),
             "Merge the vertices, or copy one side's weights to the other."}};
}

CheckFindings checkTransforms(const Subject& s, const IntakeLimits& limits) {
    const Character& c = *s.character;
    CheckFindings out;
    for (int j = 0; j < c.skeleton.size(); ++j) {
        const Vec3d scale = c.skeleton.neutralLocal[j].linear().colwise().norm();
        const double far = (scale - Vec3d::Ones()).cwiseAbs().maxCoeff();
        if (far < 0.01)
            continue;
        out.push_back({"transforms not applied",
                       far > 0.5 ? 3 : 2,
                       j,
                       -1,
                       {},
                       scale.maxCoeff(),
                       words("%s is scaled by %.3g, %.3g, %.3g in neutral.", c.skeleton.name[j].c_str(),
                             scale.x(), scale.y(), scale.z()),
                       "Apply the scale before binding: what hangs below it inherits it."});
        if (out.size() > 8)
            break;
    }
    if (s.body.height > 0 && (s.body.height < limits.leastHeight || s.body.height > limits.mostHeight))
        out.push_back({"transforms not applied",
                       3,
                       -1,
                       -1,
                       {},
                       s.body.height,
                       words("The character is %.3g m high.", s.body.height),
                       "Check the units of the export."});
    return out;
}

} // namespace hobble
