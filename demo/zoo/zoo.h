#pragma once
// Strangers: characters nobody drew, of many kinds of body under many ways of naming, with what each joint
// is. Skin is simple (a tube along each bone, blended at its joints): enough to ask what a joint is, which
// way it bends and what a plan moves.
#include "core/character/roles.h"

#include <string>
#include <vector>

namespace hobble::zoo {

struct Bone {
    int parent = -1;
    Vec3d at = Vec3d::Zero(); // world, metres; y up, facing +z, left is +x
    Role role = Role::Unknown;
    Side side = Side::Middle;
    bool fore = false;          // of a fore leg
    int segment = 0;            // along a chain of one role
    int digit = -1;             // of a finger or toe: 0 thumb … 4 little
    double radius = 0.03;       // metres; 0: moves no skin
    std::string also = {};      // a word its name has besides: "grp", "end"
    std::string called = {};    // what it is called, whatever its role
    bool carries = false;       // a control without skin that stands for the bone after it
    bool follows = false;       // that bone, which hangs from it
    bool oneOfManyLegs = false; // of an insect: as well a fore leg's as a hind leg's
    Eigen::Quaterniond axes = Eigen::Quaterniond::Identity();
};

struct Body {
    std::string name;
    std::vector<Bone> bones;
    Vec3d up = Vec3d::UnitY(), forward = Vec3d::UnitZ(), left = Vec3d::UnitX(); // where it stands
};

/// Whether a guess is right of a bone.
bool isRightly(const Bone& bone, Role role, bool fore);

/// How a body may stand in the pose its skin is bound in.
const std::vector<std::string>& bindPoses();
Body inBindPose(Body body, const std::string& pose);

/// What else makers do to a skeleton: joints added and taken away, axes turned, units. The first is nothing.
const std::vector<std::string>& changes();
Body changed(const Body& body, const std::string& change);

/// At least twelve kinds, each with all that its kind has.
std::vector<Body> bodies();

struct Convention {
    std::string name;
    int vocabulary = 0;
    int letters = 0;           // how words are joined
    int sides = 0;             // how a side is written
    std::string before, after; // what all names share
    int numbers = 0;           // how segments are counted
};

/// Thirty of them. Those of even number may be tuned on, the others only score.
std::vector<Convention> conventions();

/// Names of all bones of a body, unequal.
std::vector<std::string> namesOf(const Body& body, const Convention& convention);

/// The next bone above that is no empty group; −1 where there is none.
int boneAbove(const Body& body, int bone);
/// To a bone from the next above it that lies elsewhere; nought where there is none.
Vec3d fromAbove(const Body& body, int bone);

/// With its skin.
Character characterOf(const Body& body, const Convention& convention);

} // namespace hobble::zoo
