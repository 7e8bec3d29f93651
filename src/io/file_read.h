#pragma once
#include "core/result.h"

#include <fstream>
#include <iterator>
#include <string>

namespace hobble {

inline Result<std::string> readFile(const std::string& path) {
    std::ifstream in(path, std::ios::binary);
    if (!in)
        return Error{"Cannot open " + path + ": it is missing or may not be read."};
    return std::string((std::istreambuf_iterator<char>(in)), {});
}

} // namespace hobble
