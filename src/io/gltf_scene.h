#pragma once
// A parsed glTF model → Scene. Throws Refused and Stopped (io/scene.h).
#include "io/scene.h"

namespace tinygltf {
class Model;
}

namespace hobble {

Scene gltfScene(const tinygltf::Model& model, const Progress& progress);

} // namespace hobble
