#pragma once
// glTF 2.0 (.glb, .gltf) → Character. Throws Refused and Stopped (io/file_scene.h); readCharacter is what
// others call.
#include "io/file_scene.h"

#include <memory>

namespace tinygltf {
class Model;
}

namespace hobble {

/// The parser's own model; images are left alone. Throws Refused.
std::shared_ptr<const tinygltf::Model> parseGltf(const std::string& path, const std::string& bytes);

/// `path` is where the file's own references are looked for.
Character readGltfBytes(const std::string& path, const std::string& bytes, const Progress& progress = {});

} // namespace hobble
