// Triangles without an area: they carry no strain, and turn normals black.
#include "core/intake/collect.h"

#include <set>

namespace hobble {

CheckFindings checkZeroArea(const Subject& s, const IntakeLimits&) {
    const Character& c = *s.character;
    const Surface& f = s.surface;
    CheckFindings out;
    for (std::size_t p = 0; p < c.parts.size(); ++p) {
        const Part& part = c.parts[p];
        Places places(c);
        std::size_t flat = 0, twice = 0;
        std::set<Triangle> known;
        for (std::uint32_t t = part.firstTriangle; t < part.firstTriangle + part.triangleCount; ++t) {
            const Triangle& tri = c.triangles[t];
            const Vec3d a = c.neutral[tri[0]].cast<double>(), b = c.neutral[tri[1]].cast<double>(),
                        d = c.neutral[tri[2]].cast<double>();
            const double area = 0.5 * (b - a).cross(d - a).norm();
            const double longest =
                std::max({(b - a).squaredNorm(), (d - a).squaredNorm(), (d - b).squaredNorm()});
            Triangle welded{f.weldOf[tri[0]], f.weldOf[tri[1]], f.weldOf[tri[2]]};
            std::rotate(welded.begin(), std::min_element(welded.begin(), welded.end()), welded.end());
            const bool collapsed = welded[0] == welded[1] || welded[1] == welded[2] || welded[0] == welded[2];
            if (collapsed || area <= 1e-6 * longest) {
                ++flat;
            } else if (!known.insert(welded).second) {
                ++twice;
            } else {
                continue;
            }
            for (std::uint32_t v : tri)
                places.add(v);
        }
        if (flat + twice == 0)
            continue;
        std::string sentence =
            flat ? say("%zu triangles of '%s' have no area", flat, part.name.c_str())
                 : say("%zu triangles of '%s' lie twice at one place", twice, part.name.c_str());
        if (flat && twice)
            sentence += say(", %zu lie twice at one place", twice);
        out.push_back({.check = tableWord("zero-area triangles"),
                       .severity = flat + twice > 20 ? 2 : 1,
                       .part = static_cast<int>(p),
                       .vertices = places.take(),
                       .value = static_cast<double>(flat + twice),
                       .sentence = sentence + ".",
                       .advice = say("Collapse their edges or delete them; measures leave them out.")});
    }
    return out;
}

} // namespace hobble
