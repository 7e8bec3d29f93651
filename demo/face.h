#pragma once
// What the faces of the cast share: whose skin the lids, ears and jaw are, teeth, tongue, and how joints
// follow.
#include "head.h"
#include "skinning.h"

namespace hobble::demo {

std::vector<Bone> bonesOf(const Rig& rig, const std::vector<std::pair<std::string, std::string>>& pairs);

/// Lids take from `from` what lies between socket and edge; ears what lies beyond their root.
void shareLids(std::vector<Weights>& weights, const Mesh& mesh, const std::vector<int>& label,
               const HeadPlan& plan, const Rig& rig);
void shareEars(std::vector<Weights>& weights, const Mesh& mesh, const std::vector<int>& label, const Rig& rig,
               double length);

/// Small teeth along an arch: its middle, half its width, and how far it runs back.
std::vector<Solid> teethAlong(const Vec3d& middle, double half, double back, double drop, double size);

/// A tongue along the joints tongue_1, tongue_2, tongue_end of the jaw.
int addTongue(Assembly& assembly, const Rig& rig, double radius, double wide, const Vec3& colour);

/// A joint that follows another's turn about an axis of its own.
Driver follow(const Character& character, const Rig& rig, const std::string& name, const std::string& source,
              const std::string& joint, const Vec3d& about, std::vector<DriverKey> keys);

} // namespace hobble::demo
