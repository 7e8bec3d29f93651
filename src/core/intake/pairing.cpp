// Left and right joints: each has a partner, stands at its mirrored place, and on the side its name says.
#include "core/intake/collect.h"

#include <cmath>

namespace hobble {

CheckFindings checkPairing(const Subject& s, const IntakeLimits& limits) {
    const Character& c = *s.character;
    CheckFindings out;
    const auto place = [&](int j) { return Vec3d(c.skeleton.neutralWorld[j].translation()); };
    const double near = limits.pairDistance * s.body.height;
    // a single limb on the bench, or a strap: there is no other side to ask for
    const bool twoSided =
        std::any_of(s.roles.begin(), s.roles.end(), [&](const JointRole& r) { return r.mirror >= 0; }) ||
        s.mirror.found;
    // where hardly any names pair, that they do not is no slip of one of them
    int byName = 0, byPlace = 0;
    for (const JointRole& r : s.roles)
        if (r.mirror >= 0)
            ++(r.pairedByPlace ? byPlace : byName);
    std::vector<char> wrongSide(s.roles.size(), 0);
    for (int j = 0; j < c.skeleton.size(); ++j) {
        const JointRole& r = s.roles[j];
        if (r.role == Role::Unknown || r.role == Role::Control || r.role == Role::Helper || !r.movesSkin)
            continue;
        const std::string& name = c.skeleton.name[j];
        if (r.side == Side::Middle) {
            // beside the plane, with something like it opposite: a side that its name does not tell
            const int p = s.mirror.found ? s.mirror.partner[j] : -1;
            if (p > j && p != j && s.roles[p].side == Side::Middle && s.roles[p].role != Role::Unknown &&
                std::abs(s.mirror.distance(place(j))) > near)
                out.push_back(
                    {.check = tableWord("joints that do not pair"),
                     .severity = 2,
                     .joint = j,
                     .value = std::abs(s.mirror.distance(place(j))),
                     .sentence = say("%s and %s mirror each other, but no name says which is left.",
                                     name.c_str(), c.skeleton.name[p].c_str()),
                     .advice = say("Name their sides; what is told by side cannot be told of them.")});
            continue;
        }
        const double d = s.mirror.found ? s.mirror.distance(place(j)) : 0;
        if (s.mirror.found && (r.side == Side::Left ? d < -near : d > near)) {
            wrongSide[j] = 1;
            const int p = c.skeleton.parent[j];
            if (p < 0 || !wrongSide[p]) // a whole arm is told once
                out.push_back({.check = tableWord("joints that do not pair"),
                               .severity = 3,
                               .joint = j,
                               .value = std::abs(d),
                               .sentence = say("%s is named %s but stands %.1f cm on the other side.",
                                               name.c_str(), nameOf(r.side), 100 * std::abs(d)),
                               .advice = say("Rename it and what hangs below it."),
                               .partner = r.mirror});
            continue;
        }
        if (r.mirror < 0) {
            if (r.role == Role::End || r.role == Role::Twist || !twoSided)
                continue;
            const int p = c.skeleton.parent[j];
            if (p >= 0 && s.roles[p].side == r.side && s.roles[p].mirror < 0 &&
                s.roles[p].role != Role::Unknown)
                continue; // its parent has none either, and is told
            const int there = s.mirror.found ? s.mirror.partner[j] : -1;
            out.push_back(
                {.check = tableWord("joints that do not pair"),
                 .severity = 2,
                 .joint = j,
                 .value = 0,
                 .sentence = there >= 0 && there != j
                                 ? say("%s has no partner by name; %s stands at its mirrored place.",
                                       name.c_str(), c.skeleton.name[there].c_str())
                                 : say("%s has no partner on the other side.", name.c_str()),
                 .advice = say("Name both sides alike but for the side."),
                 .partner = there == j ? -1 : there});
        } else if (r.pairedByPlace && byName > byPlace && j < r.mirror) {
            out.push_back(
                {.check = tableWord("joints that do not pair"),
                 .severity = 2,
                 .joint = j,
                 .value = 0,
                 .sentence = say("%s and %s mirror each other, but their names do not pair.", name.c_str(),
                                 c.skeleton.name[r.mirror].c_str()),
                 .advice =
                     say("Name both sides alike but for the side: poses and weights are mirrored by name."),
                 .partner = r.mirror});
        } else if (s.mirror.found && j < r.mirror) {
            const double off = (s.mirror.mirrored(place(j)) - place(r.mirror)).norm();
            if (off > near)
                out.push_back({.check = tableWord("joints that do not pair"),
                               .severity = off > 3 * near ? 3 : 2,
                               .joint = j,
                               .value = off,
                               .sentence = say("%s and %s are %.1f cm from being mirrored.", name.c_str(),
                                               c.skeleton.name[r.mirror].c_str(), 100 * off),
                               .advice = say("Mirror the joint from the side that is right."),
                               .partner = r.mirror});
        }
    }
    // an arm that is off is off as a whole: the joints below one that is told are not
    std::vector<char> told(s.roles.size(), 0);
    for (const CheckFinding& f : out)
        told[f.joint] = 1;
    std::erase_if(out, [&](const CheckFinding& f) {
        const int p = c.skeleton.parent[f.joint];
        return p >= 0 && told[p] && f.severity == 2 && f.value > 0 && s.roles[f.joint].mirror >= 0 &&
               s.roles[p].mirror >= 0;
    });
    return out;
}

} // namespace hobble
