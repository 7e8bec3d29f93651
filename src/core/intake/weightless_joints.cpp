// Joints that are meant to hold skin and hold none.
#include "core/intake/collect.h"

namespace hobble {

CheckFindings checkWeightlessJoints(const Subject& s, const IntakeLimits&) {
    const Character& c = *s.character;
    std::vector<double> held(c.skeleton.name.size(), 0.0);
    for (std::size_t i = 0; i < c.weights.joint.size(); ++i)
        held[c.weights.joint[i]] += c.weights.weight[i];
    CheckFindings out;
    for (int j = 0; j < c.skeleton.size(); ++j) {
        const Role r = s.roles[j].role;
        // Roots, ends and controls hold nothing by design; a joint between others that do is meant to hold
        // something.
        if (held[j] > 1e-3 || r == Role::Root || r == Role::End || r == Role::Control || r == Role::Unknown ||
            c.skeleton.parent[j] < 0 || c.weights.joint.empty())
            continue;
        const int m = s.roles[j].mirror;
        out.push_back({tableWord("joint with no weight"),
                       m >= 0 && held[m] > 1e-3 ? 3 : 2,
                       j,
                       -1,
                       {},
                       0,
                       say("%s moves no skin of its own%s.", c.skeleton.name[j].c_str(),
                           m >= 0 && held[m] > 1e-3 ? ", though its mirror does" : ""),
                       say("Give it its share of the skin around it, or take it out of the skeleton.")});
    }
    return out;
}

} // namespace hobble
