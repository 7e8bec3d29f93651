// Edge loops across a joint: how many fit in the length that bends, one radius of the limb either way.
// Counted by the mean length, along the limb, of the edges that pass the joint.
#include "core/intake/collect.h"

#include <cmath>

namespace hobble {

CheckFindings checkEdgeLoops(const Subject& s, const IntakeLimits& limits) {
    const Character& c = *s.character;
    CheckFindings out;
    for (int j = 0; j < c.skeleton.size(); ++j) {
        const auto wanted = limits.loops.find(s.roles[j].role);
        const JointZone& zone = s.zones[j];
        if (wanted == limits.loops.end() || zone.shellTriangles.empty() || zone.limbRadius <= 0)
            continue;
        const Vec3 at = c.skeleton.neutralWorld[j].translation().cast<float>(),
                   along = zone.axis.cast<float>();
        double sum = 0, weight = 0;
        Places places(c);
        for (std::uint32_t t : zone.shellTriangles) {
            const Triangle& tri = s.surface.triangles[t];
            for (int k = 0; k < 3; ++k) {
                const Vec3 &a = s.neutral[tri[k]], &b = s.neutral[tri[(k + 1) % 3]];
                const double ha = along.dot(a - at), hb = along.dot(b - at), span = std::abs(ha - hb);
                // along the limb, not around it; and of this limb, not of the trunk it hangs on
                if ((ha > 0) == (hb > 0) || span < 0.7 * (a - b).norm() ||
                    (0.5f * (a + b) - at).norm() > 2.5 * zone.limbRadius)
                    continue;
                sum += span;
                ++weight;
                places.add(s.surface.representative(tri[k]));
                places.add(s.surface.representative(tri[(k + 1) % 3]));
            }
        }
        if (weight < 3)
            continue;
        const double loops = 2 * zone.limbRadius / (sum / weight);
        if (loops >= wanted->second)
            continue;
        out.push_back(
            {.check = tableWord("too few edge loops"),
             .severity = loops < 0.6 * wanted->second ? 3 : 2,
             .joint = j,
             .vertices = places.take(),
             .value = loops,
             .sentence = say("%.1f edge loops lie across %s, where %.0f are wanted to bend smoothly.", loops,
                             c.skeleton.name[j].c_str(), wanted->second),
             .advice = say("Add loops on both sides of the joint.")});
    }
    return out;
}

} // namespace hobble
