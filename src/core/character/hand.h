#pragma once
// A hand as its own joints show it: which way its fingers lie, on which side the thumb is, and where the palm
// looks. Told from the knuckles, never from how far the bones within the palm are splayed. Our own.
#include "core/character/body.h"

namespace hobble {

struct Hand {
    int wrist = -1, thumb = -1;  // thumb: its first joint; -1 when there is none
    std::vector<int> fingers;    // the first joint of each, in the order of the tree
    Vec3d along = Vec3d::Zero(); // unit, from the wrist to the knuckles
    Vec3d across =
        Vec3d::Zero();          // unit, at right angles to it, towards the thumb's side; zero when not known
    Vec3d palm = Vec3d::Zero(); // unit, out of the palm; zero when nothing tells
    bool shown = false;         // the palm is told by thumb or fingers, not by how the arm hangs
};

/// With side Middle the palm is told by how the fingers are bent, if they are.
Hand handOf(const Character& character, const std::vector<JointRole>& roles, const BodyFrame& body,
            int wrist);

/// Left or right by thumb and palm, where the fingers are bent enough to show the palm; else Middle.
Side sideByThumb(const Character& character, const std::vector<JointRole>& roles, int wrist);

/// The axis that closes a finger's joint towards the palm, unit, in the world: at right angles to the
/// finger's own plane where it is bent in neutral, otherwise across the hand. Zero when neither is known.
/// `bent` receives how far it is closed already, degrees.
Vec3d curlAxis(const Character& character, const std::vector<JointRole>& roles, const Hand& hand, int joint,
               double& bent);

/// "thumb", "index", "middle", "ring", "little"; "finger 6" and so on for more.
std::string digitName(int digit);

/// Gives each finger its digit (1 index … 4 little), by its name or by its place from the thumb, the same on
/// both hands; what is a thumb by its place, and a bone of the palm by its own, is called so.
void nameDigits(const Character& character, std::vector<JointRole>& roles,
                const std::vector<std::vector<std::string>>& words);

} // namespace hobble
