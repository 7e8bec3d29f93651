#pragma once
// The two ways skin is moved by its joints.
namespace hobble {

enum class Skinning { Linear, DualQuaternion };

const char* nameOf(Skinning method); // "linear", "dual-quaternion"

} // namespace hobble
