#pragma once
// A clip as BVH: the tree with its offsets in metres, then one line of channels a frame. Every joint's rest
// frame is the world's, as the format has it; angles are Z, X, Y in degrees.
#include "core/character/character.h"
#include "core/result.h"

namespace hobble {

Result<Done> writeBvh(const Character& character, const Clip& clip, double framesPerSecond,
                      const std::string& path);

} // namespace hobble
