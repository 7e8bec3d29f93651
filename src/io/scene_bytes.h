#pragma once
// What was imported, as bytes between the process that reads a file and the one that asked for it. Of the
// bytes nothing is believed: counts and indices that lead out of what is there are refused.
#include "io/import_scene.h"

#include <string_view>

namespace hobble {

std::string packScene(const ImportedScene& imported);
/// Throws Refused where the bytes are no scene.
ImportedScene unpackScene(std::string_view bytes);

} // namespace hobble
