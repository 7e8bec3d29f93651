#pragma once
// Joints that lie on one another and are one to whoever poses the character: an empty group above a joint, as
// rigs are built for clean channels; or a control that carries the limb while the joint with the skin hangs
// from it. What a joint is is asked of them together.
#include "core/character/character.h"

#include <functional>

namespace hobble {

struct StackedJoints {
    Character character;        // each stack one joint, with all its skin; without drivers, clips and skins
    std::vector<int> of;        // per joint of the whole: the joint of `character` it is in
    std::vector<int> stands;    // per joint of `character`: the joint of the whole it stands for
    std::vector<char> isMember; // per joint of the whole: in a stack, and not what that stands for
    std::vector<char> isAbove;  // of those: whether what the stack stands for hangs from it
};

/// Nothing where no joints lie so, or nothing holds skin at all. A stack is what holds no skin and no part of
/// its own and the one joint at its place that does, or carries such: the lower where the limb goes on below
/// it, the upper where it goes on beside. Where it goes on in both ways they are two. `alone` says which
/// joints are never taken into another.
std::optional<StackedJoints> stackedJoints(const Character& character, const std::function<bool(int)>& alone);

} // namespace hobble
