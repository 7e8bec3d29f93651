#pragma once
// The groups a body's motions are told in, and which limb a joint belongs to.
#include "core/character/roles.h"

#include <optional>
#include <string_view>

namespace hobble {

/// The order in which a plan goes over the body; what is of the whole body comes last.
enum class Limb { Arms, Legs, Trunk, Head, Hands, Feet, Tail, Other, Poses, Clips, Shapes };
inline constexpr int kLimbs = 11;

const char* nameOf(Limb limb); // "Arms"; what files say, too
std::optional<Limb> limbNamed(std::string_view name);

/// Where a joint's own motions are told.
Limb limbOf(Role role);

struct LimbPlace {
    Limb limb = Limb::Other;
    Side side = Side::Middle;
    bool operator==(const LimbPlace&) const = default;
};

/// The limb each joint is seen with: hands with their arms, feet with their legs, twist joints and helpers
/// with what they hang on.
std::vector<LimbPlace> limbOfJoints(const Skeleton& skeleton, const std::vector<JointRole>& roles);

/// Per triangle of the file, whether the limb of a joint holds two fifths of it and more.
std::vector<char> trianglesOfLimb(const Character& character, const std::vector<JointRole>& roles, int joint);

} // namespace hobble
