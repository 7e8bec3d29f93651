// Elbows and knees that stand quite straight: nothing says which way they bend, to a solver or to a reader.
#include "core/intake/collect.h"

namespace hobble {

CheckFindings checkStraightLimbs(const Subject& s, const IntakeLimits& limits) {
    const Character& c = *s.character;
    CheckFindings out;
    for (int j = 0; j < c.skeleton.size(); ++j) {
        if ((s.roles[j].role != Role::Elbow && s.roles[j].role != Role::Knee) || !s.roles[j].movesSkin)
            continue;
        bool goesOn = false; // an elbow without a hand has no angle
        for (int k = j + 1; k < c.skeleton.size() && !goesOn; ++k)
            goesOn = (s.roles[k].role == Role::Wrist || s.roles[k].role == Role::Ankle) &&
                     nextAbove(c.skeleton, s.roles, k) == j;
        Vec3d axis;
        const double bend = degrees(neutralBend(c, s.roles, j, axis));
        if (!goesOn || bend >= limits.straightDegrees)
            continue;
        out.push_back(
            {.check = tableWord("straight limb"),
             .severity = 1,
             .joint = j,
             .value = bend,
             .sentence = say("%s is straight in neutral (%.1f degrees): it has no preferred way to bend.",
                             c.skeleton.name[j].c_str(), bend),
             .advice = say("Bend it a few degrees the way it goes, before binding.")});
    }
    return out;
}

} // namespace hobble
