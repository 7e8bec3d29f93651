#pragma once
// What each joint is: its role and side, guessed from names and the tree. Names are taken apart into words; a
// word may belong to several roles ("leg" is a thigh or a shin), and the tree decides.
#include "core/character/character.h"

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
    Collarbone,
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
    Twist,
    Helper,
    Control,
    End
};

enum class Side { Middle, Left, Right };

struct JointRole {
    Role role = Role::Unknown;
    Side side = Side::Middle;
    bool fore = false;      // a quadruped's fore limb
    int digit = -1;         // which finger or toe: 0 thumb side … in the order of the tree
    int segment = 0;        // 0 is nearest the trunk, within a chain of the same role
    int mirror = -1;        // the joint of the other side; -1 when there is none
    bool movesSkin = false; // it, or something below it, carries skin
};

std::vector<JointRole> guessRoles(const Character& character);

const char* nameOf(Role role); // "shoulder"
const char* nameOf(Side side); // "left", "right", "middle"
std::optional<Role> roleCalled(const std::string& name);

/// Words of a joint's name: split at case changes, digits and separators, lower case, namespaces dropped.
std::vector<std::string> wordsOf(const std::string& jointName);

} // namespace hobble
