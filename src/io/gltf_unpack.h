#pragma once
// glTF whose meshes are compressed, made plain: EXT_meshopt_compression (of buffer views) and
// KHR_draco_mesh_compression (of primitives), both of the Khronos registry of glTF extensions. What is
// decoded goes into one more buffer at the end, and the JSON says so; all else stays as it was.
#include <cstddef>
#include <string>

namespace hobble {

struct UnpackedGltf {
    std::string bytes;       // of a .glb or .gltf; the very same where nothing was compressed
    std::size_t buffers = 0; // of the file's own; what was decoded comes after them
    bool changed = false;
};

/// `folder` is where buffers of their own lie. Throws Refused where compressed data is damaged. What is no
/// glTF at all comes back as it is, for the parser to complain of.
UnpackedGltf unpackGltf(const std::string& bytes, const std::string& folder);

} // namespace hobble
