#pragma once
// BVH motion capture → skeleton and clip. Offsets are the neutral pose; lengths stay in the file's unit,
// which BVH does not tell. Rotations are turned into quaternions in the order of the file's channels; a
// position channel replaces the joint's offset. An end site becomes a joint "… end". Fails with a message
// naming the line; never aborts.
#include "core/character/character.h"
#include "core/progress.h"
#include "core/result.h"

namespace hobble {

struct MotionCapture {
    Skeleton skeleton;
    Clip clip;
    std::size_t frames = 0;
    double secondsPerFrame = 0;
    std::vector<std::string> notes; // what was missing or left out
};

Result<MotionCapture> readBvh(const std::string& path, const Progress& progress = {});
Result<MotionCapture> bvhFromText(const std::string& text, const Progress& progress = {});

} // namespace hobble
