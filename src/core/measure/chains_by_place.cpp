#include "core/measure/chains_by_place.h"

#include "core/measure/torn_limbs.h"

namespace hobble {

namespace {

// The same character on another tree: joints in an order in which parents come first.
Character reparented(const Character& c, const std::vector<int>& parent, const std::vector<int>& order) {
    Character out = c;
    std::vector<int> now(order.size());
    for (std::size_t i = 0; i < order.size(); ++i)
        now[static_cast<std::size_t>(order[i])] = static_cast<int>(i);
    const Skeleton& from = c.skeleton;
    Skeleton to;
    for (int j : order) {
        const int p = parent[static_cast<std::size_t>(j)];
        to.name.push_back(from.name[static_cast<std::size_t>(j)]);
        to.parent.push_back(p < 0 ? -1 : now[static_cast<std::size_t>(p)]);
        to.neutralWorld.push_back(from.neutralWorld[static_cast<std::size_t>(j)]);
        to.neutralLocal.push_back(p < 0 ? to.neutralWorld.back()
                                        : from.neutralWorld[static_cast<std::size_t>(p)].inverse() *
                                              to.neutralWorld.back());
    }
    out.skeleton = std::move(to);
    std::vector<std::uint16_t> joint(c.weights.joint.begin(), c.weights.joint.end());
    for (std::uint16_t& j : joint)
        j = static_cast<std::uint16_t>(now[j]);
    out.weights.joint = std::move(joint);
    std::vector<Part> parts(c.parts.begin(), c.parts.end());
    for (Part& p : parts)
        if (p.carrier >= 0)
            p.carrier = now[static_cast<std::size_t>(p.carrier)];
    out.parts = std::move(parts);
    out.drivers.clear();
    out.clips = {};
    out.skins.clear();
    return out;
}

} // namespace

std::map<std::string, RoleCorrection> rolesOfChains(const Subject& s) {
    const Character& c = *s.character;
    const TreeAndSkin found = treeAndSkin(c.skeleton, s.surface);
    if (found.flatUnder < 0)
        return {};
    const auto n = c.skeleton.name.size();
    std::vector<int> parent = c.skeleton.parent;
    for (std::size_t j = 0; j < n; ++j)
        if (found.parentByPlace[j] >= 0)
            parent[j] = found.parentByPlace[j];
    std::vector<int> order;
    std::vector<char> placed(n, 0);
    for (bool more = true; more;) { // as many rounds as the tree is deep
        more = false;
        for (std::size_t j = 0; j < n; ++j)
            if (!placed[j] && (parent[j] < 0 || placed[static_cast<std::size_t>(parent[j])])) {
                placed[j] = 1;
                order.push_back(static_cast<int>(j));
                more = true;
            }
    }
    if (order.size() < n) // what is flat hangs from what it holds: no tree to be read
        return {};
    const Character other = reparented(c, parent, order);
    const std::vector<JointRole> roles = guessRoles(other);
    std::map<std::string, RoleCorrection> out;
    for (std::size_t i = 0; i < n; ++i) {
        const JointRole &now = s.roles[static_cast<std::size_t>(order[i])], &read = roles[i];
        if (read.role != Role::Unknown && (read.role != now.role || read.side != now.side))
            out[other.skeleton.name[i]] = {read.role, read.side};
    }
    return out;
}

} // namespace hobble
