#pragma once
#include "core/result.h"
#include "core/words/say.h"

#include <filesystem>
#include <fstream>
#include <random>
#include <string>

namespace hobble {

/// Writes the whole file beside its place and moves it there, so that a full disk or a kill leaves no torn
/// file, nor two programs that write it at once.
inline Result<Done> writeFile(const std::string& path, const std::string& bytes) {
    const std::string beside = path + "." + std::to_string(std::random_device{}()) + ".part";
    {
        std::ofstream out(beside, std::ios::binary | std::ios::trunc);
        out.write(bytes.data(), static_cast<std::streamsize>(bytes.size()));
        out.close();
        if (!out) {
            std::error_code ec;
            std::filesystem::remove(beside, ec);
            return Error{say("Cannot write %s: the folder is missing, protected or full.", path)};
        }
    }
    std::error_code ec;
    std::filesystem::rename(beside, path, ec);
    if (ec)
        return Error{say("Cannot write %s: %s.", path, ec.message())};
    return Done{};
}

} // namespace hobble
