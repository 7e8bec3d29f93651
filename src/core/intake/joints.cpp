// Joints that hold what they should not, or hold nothing.
#include "core/intake/collect.h"

namespace hobble {

CheckFindings checkEndJointWeights(const Subject& s, const IntakeLimits&) {
    const Character& c = *s.character;
    CheckFindings out;
    const auto children = c.skeleton.children();
    for (int j = 0; j < c.skeleton.size(); ++j) {
        if (s.roles[j].role != Role::End || !children[j].empty())
            continue;
        Places places(c);
        double most = 0;
        for (std::uint32_t v = 0; v < c.vertexCount(); ++v)
            for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
                if (c.weights.joint[i] == j && c.weights.weight[i] > 0.005f) {
                    most = std::max<double>(most, c.weights.weight[i]);
                    places.add(v);
                }
        if (!places.count())
            continue;
        const std::size_t n = places.count();
        out.push_back(
            {"weights on an end joint", 2, j, -1, places.take(), most,
             words("%zu vertices are held by %s, which only marks the end of a chain; up to %.0f %%.", n,
                   c.skeleton.name[j].c_str(), 100 * most),
             "Hand these weights to the joint above it."});
    }
    return out;
}

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
        out.push_back({"joint with no weight",
                       m >= 0 && held[m] > 1e-3 ? 3 : 2,
                       j,
                       -1,
                       {},
                       0,
                       words("%s moves no skin of its own%s.", c.skeleton.name[j].c_str(),
                             m >= 0 && held[m] > 1e-3 ? ", though its mirror does" : ""),
                       "Give it its share of the skin around it, or take it out of the skeleton."});
    }
    return out;
}

} // namespace hobble
