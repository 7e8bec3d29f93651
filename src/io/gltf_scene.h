#pragma once
// A parsed glTF model → FileScene. Throws Refused and Stopped (io/file_scene.h).
#include "io/file_scene.h"

namespace tinygltf {
class Model;
}

namespace hobble {

FileScene gltfScene(const tinygltf::Model& model, const Progress& progress);

} // namespace hobble
