#include "io/clip_folder.h"

#include "core/ascii.h"
#include "core/words/say.h"
#include "io/character_read.h"

#include <algorithm>
#include <filesystem>
#include <set>

namespace hobble {

namespace {

namespace fs = std::filesystem;

bool mayHoldClips(const fs::path& file) {
    const std::string suffix = lowered(file.extension().string());
    if (suffix == ".bvh")
        return true;
    for (const CharacterFormat& f : characterFormats())
        for (const std::string& known : f.suffixes)
            if (suffix == "." + known)
                return true;
    return false;
}

} // namespace

std::vector<std::string> clipFilesIn(const std::vector<std::string>& places,
                                     std::vector<std::string>& notes) {
    std::vector<std::string> out;
    std::set<fs::path> seen;
    std::vector<std::pair<fs::path, bool>> open; // and whether it was named itself
    for (auto place = places.rbegin(); place != places.rend(); ++place)
        open.emplace_back(*place, true);
    while (!open.empty()) {
        const auto [at, named] = open.back();
        open.pop_back();
        std::error_code error;
        const fs::path real = fs::canonical(at, error);
        if (error) {
            if (named)
                notes.push_back(say("%s is not there.", at.string()));
            continue; // a link to nowhere
        }
        if (!seen.insert(real).second)
            continue;
        if (fs::is_regular_file(real, error)) {
            if (named || mayHoldClips(at))
                out.push_back(at.string());
            continue;
        }
        if (!fs::is_directory(real, error))
            continue;
        for (fs::directory_iterator in(at, error), end; !error && in != end; in.increment(error))
            open.emplace_back(in->path(), false);
        if (error)
            notes.push_back(say("%s cannot be read: %s.", at.string(), error.message()));
    }
    std::sort(out.begin(), out.end());
    return out;
}

} // namespace hobble
