#pragma once
// Character → .glb (glTF 2.0). The skin is written in world space: joints at their neutral place, as many
// sets of four influences as the heaviest vertex needs, vertex colours, shape targets, clips, drivers.
#include "core/character/character.h"
#include "core/result.h"

namespace hobble {

Result<Done> writeGlb(const Character& character, const std::string& path);

/// The posed surface only, without skeleton: one mesh per part at `positions` (world, one per vertex,
/// metres).
Result<Done> writePosedGlb(const Character& character, const std::vector<Vec3>& positions,
                           const std::string& path);

} // namespace hobble
