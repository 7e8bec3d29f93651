#pragma once
// The names of motions in the language at hand. The plan keeps them in English, for they are what it is read
// by.
#include <string>

namespace hobble {

/// "knee flex", "arms overhead"; what is named after a joint, a shape or a clip keeps that name: "Bone_12
/// bend front".
std::string motionName(const std::string& name);

} // namespace hobble
