#pragma once
// What a batch goes over: files, folders, and lists as CSV or JSON (docs/schema/batch-list.schema.json).
#include "core/result.h"

#include <string>
#include <vector>

namespace hobble {

struct BatchCharacter {
    std::string file;
    std::string name;                                    // to be told by; empty: the file's own
    std::string plan, naming, limits, variants, variant; // files and a word; empty: as the batch has it
    int failAt = 0;                                      // 0: as the batch has it
    bool operator==(const BatchCharacter&) const = default;
};

/// Of every source in its order: a list (.csv with a head, or .json) is read, its paths are meant from its
/// own folder; a folder gives the characters in it and below it, by name, following no links to folders;
/// anything else is a character, whether it is there or not. What comes twice alike is taken once. An error
/// for a list that cannot be read, with its line, and where nothing is left to be tested.
Result<std::vector<BatchCharacter>> batchOf(const std::vector<std::string>& sources);

} // namespace hobble
