#pragma once
// glTF 2.0 (.glb, .gltf) → Character. Fails with a message naming the file and the cause; never aborts.
#include "core/character/character.h"
#include "core/result.h"

namespace hobble {

Result<Character> readGltf(const std::string& path);

} // namespace hobble
