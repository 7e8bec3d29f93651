// Skin held by a joint that only marks the end of a chain: by its name, or by its place, where no skin lies
// beyond it. (Its role is another then: what holds skin is tested.)
#include "core/character/skeleton_words.h"
#include "core/intake/collect.h"

#include <algorithm>

namespace hobble {

namespace {

// A limb's skin goes on beyond its last joint; beyond a mark at the tip it does not.
bool marksTheTip(const Subject& s, int j) {
    constexpr double beyond = 0.2, straightOn = 0.5; // of the bone that leads to it
    constexpr float held = 0.02f;
    const Skeleton& sk = s.character->skeleton;
    const auto place = [&](int k) {
        return Vec3d(sk.neutralWorld[static_cast<std::size_t>(k)].translation());
    };
    switch (s.roles[static_cast<std::size_t>(j)].role) { // what sits on a face or beside a limb ends nothing
    case Role::Eye:
    case Role::Lid:
    case Role::Lip:
    case Role::Brow:
    case Role::Jaw:
    case Role::Helper:
    case Role::Twist:
    case Role::Prop:
    case Role::Root:
    case Role::Pelvis:
        return false;
    default:
        break;
    }
    const int parent = nextAbove(sk, s.roles, j);
    const int before = parent < 0 ? -1 : nextAbove(sk, s.roles, parent);
    if (before < 0)
        return false;
    const Vec3d bone = place(j) - place(parent), up = place(parent) - place(before);
    const double length = bone.norm();
    if (length < 1e-6 || bone.dot(up) < straightOn * length * up.norm())
        return false;
    // Of the skin that it and its parent hold, hardly any lies past it.
    double past = 0, all = 0;
    const SkinWeights& w = s.surface.weights;
    for (std::uint32_t v = 0; v < s.surface.vertexCount(); ++v) {
        double share = 0;
        for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i)
            if (w.weight[i] > held && (w.joint[i] == j || w.joint[i] == parent))
                share += static_cast<double>(w.weight[i]);
        if (share < 0.5)
            continue;
        all += share;
        if ((s.neutral[v].cast<double>() - place(j)).dot(bone) > beyond * length * length)
            past += share;
    }
    constexpr double hardly = 0.01;
    return all > 0 && past < hardly * all;
}

} // namespace

CheckFindings checkEndJointWeights(const Subject& s, const IntakeLimits&) {
    const Character& c = *s.character;
    CheckFindings out;
    const auto children = c.skeleton.children();
    const std::vector<char> named = endsByName(c.skeleton);
    for (int j = 0; j < c.skeleton.size(); ++j) {
        if (!children[j].empty())
            continue;
        const bool byName = named[static_cast<std::size_t>(j)] != 0;
        Places places(c);
        double most = 0;
        for (std::uint32_t v = 0; v < c.vertexCount(); ++v)
            for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
                if (c.weights.joint[i] == j && c.weights.weight[i] > 0.02f) {
                    most = std::max<double>(most, c.weights.weight[i]);
                    places.add(v);
                }
        if (!places.count() || (!byName && !marksTheTip(s, j)))
            continue;
        const std::size_t n = places.count();
        out.push_back(
            {tableWord("weights on an end joint"), 2, j, -1, places.take(), most,
             byName
                 ? say("%zu vertices are held by %s, which only marks the end of a chain; up to %.0f %%.", n,
                       c.skeleton.name[j].c_str(), 100 * most)
                 : say("%zu vertices are held by %s, at the end of its chain with no skin beyond it; up to "
                       "%.0f %%.",
                       n, c.skeleton.name[j].c_str(), 100 * most),
             say("Hand these weights to the joint above it.")});
    }
    return out;
}

} // namespace hobble
