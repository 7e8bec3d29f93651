#pragma once
#include "core/result.h"
#include "core/words/say.h"

#include <cstdint>
#include <fstream>
#include <iterator>
#include <string>

namespace hobble {

/// Of what a character is read from: a .glb cannot be larger (glTF 2.0, 4.4.2), nothing else needs to be.
inline constexpr std::uint64_t kLargestFile = 0xFFFFFFFFu;

inline Result<std::string> readFile(const std::string& path) {
    std::ifstream in(path, std::ios::binary);
    if (!in)
        return Error{say("Cannot open %s: it is missing or may not be read.", path)};
    return std::string((std::istreambuf_iterator<char>(in)), {});
}

} // namespace hobble
