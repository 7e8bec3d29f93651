#pragma once
// A posed character as plain geometry: .obj (one object per part), .ply (a part number at each vertex) or
// .glb (one mesh per part). World space, metres, vertices in the file's own order.
#include "core/character/character.h"
#include "core/result.h"

namespace hobble {

/// The format follows the path's ending.
Result<Done> writePosed(const Character& character, const std::vector<Vec3>& positions,
                        const std::string& path);

} // namespace hobble
