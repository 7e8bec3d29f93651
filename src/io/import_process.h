#pragma once
// Files of other formats are read by a process of its own, hobble-import: a file that crashes the importer
// library, hangs it or eats all memory costs a sentence, and stopping takes a moment whatever the library is
// doing.
#include "io/import_scene.h"

namespace hobble {

struct ImportLimits {
    std::string program;         // that reads; empty: hobble-import beside this one, or in ../libexec/hobble
    int seconds = 600;           // of computing
    std::uint64_t megabytes = 0; // 0: three quarters of the machine's
};

/// As importScene, by that process; in this one where there is no such program. Throws Refused and Stopped.
ImportedScene importApart(const std::string& path, const Progress& progress, const ImportLimits& limits = {});

/// The variable that tells the process which file has the sentences of the window's language.
inline constexpr const char* kSentencesOf = "HOBBLE_TRANSLATION";

/// What the process does: reads the file, and writes how far it is and what it found to an open file.
int serveImport(const std::string& path, int to, int seconds, std::uint64_t megabytes);

} // namespace hobble
