#pragma once
// What each joint is: its role and side, guessed from names and the tree. Names are taken apart into words; a
// word may belong to several roles ("leg" is a thigh or a shin), and the tree decides. Where names say
// little, the tree and the places of the joints do (roles_by_shape.h).
#include "core/character/character.h"
#include "core/character/joint_words.h"

#include <map>
#include <optional>

namespace hobble {

enum class Role {
    Unknown,
    Root,
    Pelvis,
    Spine,
    Neck,
    Head,
    Jaw,
    Eye,
    Lid,
    Brow,
    Lip,
    Tongue,
    Ear,
    Horn,
    Trunk, // an elephant's
    Collarbone,
    Scapula,
    Shoulder,
    Elbow,
    Wrist,
    Palm,
    Thumb,
    Finger,
    Hip,
    Knee,
    Ankle,
    Fetlock,
    Toe,
    Tail,
    Wing,
    Feather,
    Fin,
    Dangle, // hair, a cape, a rope: what swings along
    Prop,   // a weapon, a bag: what is carried
    Twist,
    Helper,
    Control,
    End
};

enum class Side { Middle, Left, Right };

struct JointRole {
    Role role = Role::Unknown;
    Side side = Side::Middle;
    bool fore = false; // a quadruped's fore limb
    int digit = -1;    // a finger: 0 thumb, 1 index … 4 little; a toe: in the order of the tree
    int segment = 0;   // 0 is nearest the trunk, within a chain of the same role
    int mirror = -1;   // the joint of the other side; -1 when there is none
    int oneWith =
        -1; // the joint it lies on and is one with to whoever poses it (stacked_joints.h); -1: its own
    bool pairedByPlace = false; // by where the two stand, because their names do not pair
    bool movesSkin = false;     // it, or something below it, carries skin
    float confidence = 0;       // of role and side, 0 … 1; 1 where a person has said so
    const char* basis = ""; // "name", "name and tree", "place", "the file", "corrected"; empty: nothing known
};

/// Per joint, whether it holds skin of its own. Less than a hundredth of a vertex is dust, and makes no joint
/// another.
inline constexpr float kLeastHeld = 0.01f;
std::vector<char> holdsSkin(const Character& character);

/// The next joint above along the limb: controls, twist joints and helpers in between are passed over. −1
/// where there is none.
int nextAbove(const Skeleton& skeleton, const std::vector<JointRole>& roles, int joint);

/// What a person has said of one joint.
struct RoleCorrection {
    Role role = Role::Unknown;
    Side side = Side::Middle;

    bool operator==(const RoleCorrection&) const = default;
};

/// `corrections` are what a person has said, by joint name; names that are not there are passed over. They
/// stand as they are; their mirrors follow them, and all others are asked again with what is known now.
std::vector<JointRole> guessRoles(const Character& character,
                                  const std::map<std::string, RoleCorrection>& corrections = {});

/// What a bone of the open avatar extensions of glTF is ("leftUpperArm"); none for a name that they do not
/// have.
std::optional<RoleCorrection> humanoidRole(const std::string& bone);

const char* nameOf(Role role); // "shoulder"
const char* nameOf(Side side); // "left", "right", "middle"
std::optional<Role> roleCalled(const std::string& name);
std::optional<Side> sideCalled(const std::string& name);

} // namespace hobble
