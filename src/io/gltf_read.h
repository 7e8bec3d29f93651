#pragma once
// glTF 2.0 (.glb, .gltf) → Character. Throws Refused and Stopped (io/file_scene.h); readCharacter is what
// others call.
#include "io/file_scene.h"

namespace hobble {

/// `path` is where the file's own references are looked for.
Character readGltfBytes(const std::string& path, const std::string& bytes, const Progress& progress = {});

} // namespace hobble
