// Skin that tears because what it goes on to hangs elsewhere in the tree.
#include "core/judge/causes/case.h"

namespace hobble {

void askTornLimb(const Case& c, Causes& found) {
    constexpr double weight = 0.995;
    for (const TornLimb& t : c.context.torn) {
        if (among(found, {CauseKind::NeighbourFinger}) &&
            (c.roleOf(t.joint) == Role::Finger || c.roleOf(t.joint) == Role::Thumb))
            continue; // the finger beside it holds so much that it seems to go on from there
        const std::vector<char> torn = c.skeleton().subtree(t.joint),
                                limb = c.skeleton().subtree(t.continues);
        bool here = false, there = false; // what is marked lies on both sides of the tear
        for (std::uint32_t v : c.marked) {
            here |= c.subject.surface.weightOn(v, torn) > 0.2;
            there |= c.subject.surface.weightOn(v, limb) > 0.2;
        }
        const bool turned = torn[static_cast<std::size_t>(c.joint())] ||
                            limb[static_cast<std::size_t>(c.joint())] ||
                            c.skeleton().subtree(c.joint())[static_cast<std::size_t>(t.continues)];
        if (here && there && turned)
            found.push_back({CauseKind::LimbDoesNotFollow, weight,
                             fact::DoesNotFollow{t.joint, t.continues, t.hangsFrom}});
    }
}

} // namespace hobble
