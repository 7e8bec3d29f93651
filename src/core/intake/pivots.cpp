// Where a joint lies in the section of its limb: from the middle, in radii of that section.
#include "core/intake/collect.h"

#include "core/judge/evidence.h"

namespace hobble {

CheckFindings checkPivots(const Subject& s, const IntakeLimits& limits) {
    const Character& c = *s.character;
    CheckFindings out;
    for (int j = 0; j < c.skeleton.size(); ++j) {
        const Role r = s.roles[j].role;
        if (r != Role::Shoulder && r != Role::Elbow && r != Role::Wrist && r != Role::Hip && r != Role::Knee &&
            r != Role::Ankle && r != Role::Finger && r != Role::Thumb && r != Role::Neck && r != Role::Tail)
            continue;
        const BlendShape b = blendShape(s, j);
        if (!b.known || b.offCentre <= limits.pivotOut)
            continue;
        out.push_back({.check = "pivot outside the limb",
                       .severity = b.offCentre > 1.5 * limits.pivotOut ? 3 : 2,
                       .joint = j,
                       .value = b.offCentre,
                       .sentence = words("%s lies %.2f radii from the middle of its limb's section.",
                                         c.skeleton.name[j].c_str(), b.offCentre),
                       .advice = "Move the joint into the flesh and bind again."});
    }
    return out;
}

} // namespace hobble
