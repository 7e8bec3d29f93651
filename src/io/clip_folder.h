#pragma once
// The clips of a show: files in folders and below them.
#include "core/result.h"

#include <string>
#include <vector>

namespace hobble {

/// Files that may hold clips, by name: a file is taken as it is, a folder is searched with all below it.
/// Links are followed, and no folder or file is taken twice, so that a loop of links ends. What cannot be
/// read, and a place that is not there, is told in `notes`.
std::vector<std::string> clipFilesIn(const std::vector<std::string>& places, std::vector<std::string>& notes);

} // namespace hobble
