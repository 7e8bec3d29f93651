#pragma once
// What a joint may be called by: a role, and for a quadruped's fore limb that it is one. The words of a name
// speak for some of them, and the tree says what may follow what.
#include "core/character/roles.h"

#include <array>

namespace hobble {

inline constexpr int kRoles = static_cast<int>(Role::End) + 1;
inline constexpr int kForeRoles = 6; // scapula, shoulder, elbow, wrist, fetlock, toe
inline constexpr int kLabels = kRoles + kForeRoles;

using Label = int;                              // a role's own number; the fore limb's after them
using LabelScores = std::array<float, kLabels>; // of evidence: nought says nothing

const std::array<Role, kForeRoles>& foreRoles();
Role roleOf(Label label);
bool isFore(Label label);
Label labelOf(Role role, bool fore);

/// Whether what hangs below takes it for what is above it: a twist joint, a helper, a control.
bool seenThrough(Label label);

/// What the words of a joint's name speak for.
LabelScores wordsFor(const std::vector<std::string>& words);

/// How likely a joint is `child` below one that is `above` (-1 at the root), 0 for the usual, less for less.
float follows(Label above, Label child);

/// Whether any of the rules knows a word.
bool knownWord(const std::string& word);

} // namespace hobble
