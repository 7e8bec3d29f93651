#include "io/gltf_read.h"

#include "core/words/say.h"
#include "io/content_hash.h"
#include "io/deform_json.h"
#include "io/drivers_json.h"
#include "io/file_read.h"
#include "io/gltf_scene.h"
#include "io/gltf_unpack.h"

#define TINYGLTF_NO_STB_IMAGE
#define TINYGLTF_NO_STB_IMAGE_WRITE
#include <nlohmann/json.hpp>
#include <tiny_gltf.h>

#include <algorithm>
#include <cstring>
#include <filesystem>

namespace hobble {

namespace {

// The parser takes extras and extensions apart by calling itself: what nests without end would end the
// program. Real files nest some twenty deep.
constexpr int kDeepest = 250;

int deepestNesting(std::string_view text) {
    int deepest = 0, depth = 0;
    bool quoted = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (quoted && c == '\\')
            ++i;
        else if (c == '"')
            quoted = !quoted;
        else if (!quoted && (c == '[' || c == '{'))
            deepest = std::max(deepest, ++depth);
        else if (!quoted && (c == ']' || c == '}'))
            --depth;
    }
    return deepest;
}

// Of a .glb its first chunk, of a .gltf all of it.
std::string_view jsonOf(std::string_view bytes, bool binary) {
    if (!binary)
        return bytes;
    std::uint32_t length = 0;
    if (bytes.size() >= 20)
        std::memcpy(&length, bytes.data() + 12, 4);
    return bytes.substr(std::min<std::size_t>(20, bytes.size()), length);
}

void refuseDeepNesting(const std::string& bytes) {
    if (deepestNesting(jsonOf(bytes, bytes.compare(0, 4, "glTF") == 0)) > kDeepest)
        throw Refused{say("its JSON nests deeper than any glTF does")};
}

// What lies beside a file is read whole, so it has to have an end, and not too far off.
bool isFile(const std::string& path, void*) {
    std::error_code error;
    return std::filesystem::is_regular_file(path, error);
}
bool readBeside(std::vector<unsigned char>* out, std::string* why, const std::string& path, void*) {
    std::error_code error;
    if (std::filesystem::file_size(path, error) > kLargestFile && !error) {
        *why += path + " is larger than 4 GB";
        return false;
    }
    return tinygltf::ReadWholeFile(out, why, path, nullptr);
}

} // namespace

std::shared_ptr<const tinygltf::Model> parseGltf(const std::string& path, const std::string& bytes) {
    tinygltf::TinyGLTF parser;
    // as they are: not decoded
    parser.SetImageLoader(
        [](tinygltf::Image* image, const int, std::string*, std::string*, int, int,
           const unsigned char* encoded, int size, void*) {
            image->image.assign(encoded, encoded + size);
            return true;
        },
        nullptr);
    parser.SetFsCallbacks({isFile, tinygltf::ExpandFilePath, readBeside, tinygltf::WriteWholeFile, nullptr});
    parser.SetStoreOriginalJSONForExtrasAndExtensions(true);
    auto parsed = std::make_shared<tinygltf::Model>();
    tinygltf::Model& model = *parsed;
    std::string error, warning;
    const std::string folder = std::filesystem::path(path).parent_path().string();
    const bool binary = bytes.size() >= 4 && bytes.compare(0, 4, "glTF") == 0;
    const std::string::size_type start = bytes.find_first_not_of(" \t\r\n\xEF\xBB\xBF");
    if (!binary && (start == std::string::npos || bytes[start] != '{'))
        throw Refused{say("it is neither a .glb nor a .gltf file")};
    refuseDeepNesting(bytes);
    bool ok = false;
    try {
        const auto size = static_cast<unsigned int>(bytes.size());
        ok = binary ? parser.LoadBinaryFromMemory(&model, &error, &warning,
                                                  reinterpret_cast<const unsigned char*>(bytes.data()), size,
                                                  folder)
                    : parser.LoadASCIIFromString(&model, &error, &warning, bytes.data() + start,
                                                 size - static_cast<unsigned int>(start), folder);
    } catch (const std::exception& e) {
        error = e.what();
    }
    if (!ok) {
        std::replace(error.begin(), error.end(), '\n', ' ');
        if (const auto at = error.find("json.exception"); at != std::string::npos) {
            const auto words = error.find("] ", at), end = error.find(" while", at);
            error = "it is not valid JSON (" +
                    (words == std::string::npos ? "" : error.substr(words + 2, end - words - 2)) + ")";
        }
        while (!error.empty() && (error.back() == ' ' || error.back() == '.'))
            error.pop_back();
        throw Refused{error.empty() ? say("it is not valid glTF") : error};
    }
    return parsed;
}

Character readGltfBytes(const std::string& path, const std::string& bytes, const Progress& progress) {
    if (bytes.size() > kLargestFile)
        throw Refused{say("it is larger than 4 GB")};
    refuseDeepNesting(bytes);
    const UnpackedGltf plain = unpackGltf(bytes, std::filesystem::path(path).parent_path().string());
    const auto parsed = parseGltf(path, plain.bytes);
    const tinygltf::Model& model = *parsed;
    progress.at(0.3);
    stopIfAsked(progress);
    Character out = characterOf(gltfScene(model, progress.within(0.3, 0.6)), progress.within(0.6, 1));
    ContentHash hash;
    FormerHash former;
    const auto add = [&](std::string_view some) {
        hash.add(some);
        former.add(some);
    };
    add(bytes);
    for (std::size_t b = 0; b < (plain.changed ? plain.buffers : model.buffers.size()); ++b)
        if (const auto& buffer = model.buffers[b]; !buffer.uri.empty())
            add({reinterpret_cast<const char*>(buffer.data.data()), buffer.data.size()});
    out.hash = hash.hex();
    out.formerHash = former.hex();
    const auto extras = nlohmann::json::parse(model.extras_json_string, nullptr, false);
    if (extras.is_object() && extras.contains("hobbleDrivers"))
        out.drivers = driversFromJson(extras["hobbleDrivers"], out, out.notes);
    if (extras.is_object() && extras.contains("hobbleDeform"))
        out.extras = deformFromJson(extras["hobbleDeform"], out, out.notes);
    return out;
}

} // namespace hobble
