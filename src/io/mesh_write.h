#pragma once
// A posed character as plain geometry: .obj (one object per part), .ply (a part number at each vertex) or
// .glb (one mesh per part). World space, metres, vertices in the file's own order.
#include "core/character/character.h"
#include "core/result.h"

namespace hobble {

/// The format follows the path's ending.
Result<Done> writePosed(const Character& character, const std::vector<Vec3>& positions,
                        const std::string& path);

/// Each shape of `now` that `before` does not have, or has otherwise, as an .obj of its part alone, as it was
/// bound, with the shape whole: PART-SHAPE.obj in `folder`, which is made where it is missing. The names of
/// the files that were written, in order.
Result<std::vector<std::string>> writeNewShapes(const Character& before, const Character& now,
                                                const std::string& folder);

} // namespace hobble
