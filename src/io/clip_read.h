#pragma once
// Clips to take poses from: BVH, or the clips inside any file a character can be read from.
#include "core/character/character.h"
#include "core/progress.h"
#include "core/result.h"

#include <map>

namespace hobble {

struct ClipFile {
    Character body; // its skeleton and clips; its mesh, where it has one, is not kept
    double framesPerSecond = 30;
    std::vector<std::string> notes;

    std::size_t frameCount(const Clip& clip) const;
    double secondsAt(std::size_t frame) const { return static_cast<double>(frame) / framesPerSecond; }
};

/// Fails on a file without a clip.
Result<ClipFile> readClips(const std::string& path, const Progress& progress = {});

/// Which joint of a clip stands for which of a character, as a person has corrected it: docs/schema/
/// joint-map.schema.json. By name of the character's joint; an empty name: nothing.
std::string jointMapToJson(const std::map<std::string, std::string>& said);
Result<std::map<std::string, std::string>> jointMapFromJson(const std::string& text);

/// A word that is the same for two clips on one skeleton: under it a joint map is kept.
std::string skeletonKey(const Skeleton& skeleton);

} // namespace hobble
