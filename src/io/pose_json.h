#pragma once
// A pose of the shelf as JSON: docs/schema/pose.schema.json. It names roles, not joints.
#include "core/pose/role_pose.h"
#include "core/result.h"

namespace hobble {

std::string poseToJson(const RolePose& pose);
Result<RolePose> poseFromJson(const std::string& text);
Result<RolePose> readPose(const std::string& path);

} // namespace hobble
