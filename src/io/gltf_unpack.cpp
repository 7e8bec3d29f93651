#include "io/gltf_unpack.h"

#include "core/words/say.h"
#include "io/base64.h"
#include "io/content_hash.h"
#include "io/file_scene.h"

#include <draco/compression/decode.h>
#include <meshoptimizer.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <map>
#include <sstream>

namespace hobble {

namespace {

using Json = nlohmann::json;
constexpr const char* kMeshopt = "EXT_meshopt_compression";
constexpr const char* kDraco = "KHR_draco_mesh_compression";

std::uint32_t word(const std::string& bytes, std::size_t at) {
    std::uint32_t out = 0;
    if (at + 4 <= bytes.size())
        std::memcpy(&out, bytes.data() + at, 4);
    return out;
}

void addWord(std::string& bytes, std::uint32_t value) {
    bytes.append(reinterpret_cast<const char*>(&value), 4);
}

class Unpacker {
public:
    Unpacker(const std::string& bytes, std::string folder) : bytes_(bytes), folder_(std::move(folder)) {}

    UnpackedGltf unpack() {
        // most files are neither, and are not read twice
        if (bytes_.find(kMeshopt) == std::string::npos && bytes_.find(kDraco) == std::string::npos)
            return {bytes_, 0, false};
        split();
        json_ = Json::parse(text_, nullptr, false);
        if (!json_.is_object() || !json_.contains("buffers") || !json_["buffers"].is_array())
            return {bytes_, 0, false};
        UnpackedGltf out;
        out.buffers = json_["buffers"].size();
        try {
            views();
            primitives();
            out.changed = !decoded_.empty();
            if (!out.changed)
                return {bytes_, out.buffers, false};
            fallbacks();
            forget("extensionsRequired");
            forget("extensionsUsed");
        } catch (const Json::exception&) {
            throw Refused{say("its compressed meshes are described in a way that is not valid glTF")};
        }
        Json more;
        more["byteLength"] = decoded_.size();
        more["uri"] = "data:application/octet-stream;base64," + toBase64(decoded_);
        json_["buffers"].push_back(std::move(more));
        out.bytes = joined();
        return out;
    }

private:
    const std::string& bytes_;
    std::string folder_, text_, rest_; // the JSON; the chunks after it
    bool binary_ = false;
    Json json_;
    std::string decoded_;
    std::map<std::size_t, std::string> buffers_;

    void split() {
        binary_ = bytes_.compare(0, 4, "glTF") == 0;
        if (!binary_) {
            text_ = bytes_;
            if (text_.compare(0, 3, "\xEF\xBB\xBF") == 0)
                text_.erase(0, 3);
            return;
        }
        const std::size_t length = word(bytes_, 12);
        if (length > bytes_.size() || 20 + length > bytes_.size())
            return;
        text_ = bytes_.substr(20, length);
        rest_ = bytes_.substr(20 + length);
    }

    std::string joined() const {
        std::string text = json_.dump();
        if (!binary_)
            return text;
        while (text.size() % 4)
            text += ' ';
        std::string out = "glTF";
        addWord(out, 2);
        addWord(out, static_cast<std::uint32_t>(20 + text.size() + rest_.size()));
        addWord(out, static_cast<std::uint32_t>(text.size()));
        addWord(out, 0x4E4F534A);
        return out + text + rest_;
    }

    const std::string& buffer(std::size_t index) {
        if (const auto it = buffers_.find(index); it != buffers_.end())
            return it->second;
        const Json& b = json_["buffers"].at(index);
        std::string data;
        if (!b.contains("uri")) {
            if (index == 0 && binary_ && rest_.size() >= 8)
                data = rest_.substr(8, word(rest_, 0));
        } else if (const std::string uri = b["uri"]; uri.rfind("data:", 0) == 0) {
            const auto comma = uri.find("base64,");
            if (comma != std::string::npos)
                data = fromBase64(uri.substr(comma + 7));
        } else {
            std::ifstream in(std::filesystem::path(folder_) / uri, std::ios::binary);
            if (!in)
                throw Refused{say("its buffer '%s' is missing", uri)};
            data.assign(std::istreambuf_iterator<char>(in), {});
        }
        return buffers_[index] = std::move(data);
    }

    std::string_view slice(std::size_t index, std::size_t offset, std::size_t length) {
        const std::string& b = buffer(index);
        if (offset > b.size() || length > b.size() - offset)
            throw Refused{say("its compressed meshes lie beyond the end of its data")};
        return std::string_view(b).substr(offset, length);
    }

    // Where new bytes of the buffer begin; aligned for any component.
    std::size_t grow(std::size_t length) {
        decoded_.resize((decoded_.size() + 15) / 16 * 16);
        const std::size_t at = decoded_.size();
        if (at + length > 0x40000000u) // what base64 takes in one piece
            throw Refused{say("it is larger than 1 GB once its meshes are unpacked")};
        decoded_.resize(at + length);
        return at;
    }

    void views() {
        if (!json_.contains("bufferViews"))
            return;
        const std::size_t target = json_["buffers"].size();
        for (Json& view : json_["bufferViews"]) {
            if (!view.contains("extensions") || !view["extensions"].contains(kMeshopt))
                continue;
            const Json e = view["extensions"][kMeshopt];
            const std::size_t count = e.at("count"), stride = e.at("byteStride"), packed = e.at("byteLength");
            const std::string mode = e.at("mode"), filter = e.value("filter", "NONE");
            const auto from = slice(e.at("buffer"), e.value("byteOffset", std::size_t(0)), packed);
            // No codec shrinks further than this; more is damage.
            if (stride == 0 || stride > 256 || count > 0x10000000u || count * stride > 256 * packed + 65536)
                throw damaged();
            const std::size_t at = grow(count * stride);
            void* to = decoded_.data() + at;
            const auto* in = reinterpret_cast<const unsigned char*>(from.data());
            int bad = 1;
            if (mode == "ATTRIBUTES" && stride % 4 == 0)
                bad = meshopt_decodeVertexBuffer(to, count, stride, in, packed);
            else if (mode == "TRIANGLES" && count % 3 == 0 && (stride == 2 || stride == 4))
                bad = meshopt_decodeIndexBuffer(to, count, stride, in, packed);
            else if (mode == "INDICES" && (stride == 2 || stride == 4))
                bad = meshopt_decodeIndexSequence(to, count, stride, in, packed);
            if (bad)
                throw damaged();
            if (filter == "OCTAHEDRAL" && (stride == 4 || stride == 8))
                meshopt_decodeFilterOct(to, count, stride);
            else if (filter == "QUATERNION" && stride == 8)
                meshopt_decodeFilterQuat(to, count, stride);
            else if (filter == "EXPONENTIAL" && stride % 4 == 0)
                meshopt_decodeFilterExp(to, count, stride);
            else if (filter != "NONE")
                throw damaged();
            view["buffer"] = target;
            view["byteOffset"] = at;
            view["byteLength"] = count * stride;
            view["extensions"].erase(kMeshopt);
        }
    }

    static Refused damaged() { return Refused{say("its compressed meshes are damaged")}; }

    template <class T> void values(const draco::Mesh& mesh, const draco::PointAttribute& a, std::size_t at) {
        const int n = a.num_components();
        std::vector<T> value(static_cast<std::size_t>(n));
        const std::size_t size = sizeof(T) * value.size();
        for (draco::PointIndex p(0); p < mesh.num_points(); ++p, at += size) {
            if (!a.ConvertValue<T>(a.mapped_index(p), static_cast<std::int8_t>(n), value.data()))
                throw damaged();
            std::memcpy(decoded_.data() + at, value.data(), size);
        }
    }

    static std::size_t sizeOf(int component) { return component < 5122 ? 1 : component < 5124 ? 2 : 4; }

    void place(Json& accessor, std::size_t at, std::size_t length, std::size_t count) {
        json_["bufferViews"].push_back(
            {{"buffer", json_["buffers"].size()}, {"byteOffset", at}, {"byteLength", length}});
        accessor["bufferView"] = json_["bufferViews"].size() - 1;
        accessor["byteOffset"] = 0;
        accessor["count"] = count;
    }

    void primitives() {
        if (!json_.contains("meshes"))
            return;
        for (Json& m : json_["meshes"])
            for (Json& p : m.at("primitives"))
                if (p.contains("extensions") && p["extensions"].contains(kDraco)) {
                    primitive(p, p["extensions"][kDraco]);
                    p["extensions"].erase(kDraco);
                }
    }

    void primitive(Json& p, const Json& e) {
        const Json& view = json_.at("bufferViews").at(e.at("bufferView").get<std::size_t>());
        const auto packed =
            slice(view.at("buffer"), view.value("byteOffset", std::size_t(0)), view.at("byteLength"));
        draco::DecoderBuffer in;
        in.Init(packed.data(), packed.size());
        draco::Decoder decoder;
        auto read = decoder.DecodeMeshFromBuffer(&in);
        if (!read.ok())
            throw damaged();
        const draco::Mesh& mesh = *read.value();
        const std::size_t points = mesh.num_points();
        for (const auto& [name, id] : e.at("attributes").items()) {
            if (!p.at("attributes").contains(name))
                continue;
            const draco::PointAttribute* a = mesh.GetAttributeByUniqueId(id.get<std::uint32_t>());
            if (!a)
                throw damaged();
            Json& accessor = json_.at("accessors").at(p["attributes"][name].get<std::size_t>());
            const int component = accessor.at("componentType");
            const std::size_t length =
                points * static_cast<std::size_t>(a->num_components()) * sizeOf(component);
            const std::size_t at = grow(length);
            switch (component) {
            case 5120:
                values<std::int8_t>(mesh, *a, at);
                break;
            case 5121:
                values<std::uint8_t>(mesh, *a, at);
                break;
            case 5122:
                values<std::int16_t>(mesh, *a, at);
                break;
            case 5123:
                values<std::uint16_t>(mesh, *a, at);
                break;
            case 5125:
                values<std::uint32_t>(mesh, *a, at);
                break;
            case 5126:
                values<float>(mesh, *a, at);
                break;
            default:
                throw damaged();
            }
            place(accessor, at, length, points);
        }
        if (!p.contains("indices"))
            return;
        Json& accessor = json_.at("accessors").at(p["indices"].get<std::size_t>());
        const std::size_t count = 3 * static_cast<std::size_t>(mesh.num_faces());
        // by the decoded mesh, not by the file: what it says may be too small for it
        const std::size_t size = points > 65535 ? 4 : 2;
        accessor["componentType"] = size == 4 ? 5125 : 5123;
        const std::size_t at = grow(count * size);
        std::size_t to = at;
        for (draco::FaceIndex f(0); f < mesh.num_faces(); ++f)
            for (const draco::PointIndex& corner : mesh.face(f)) {
                const std::uint32_t index = corner.value();
                std::memcpy(decoded_.data() + to, &index, size); // little-endian, as glTF is
                to += size;
            }
        place(accessor, at, count * size, count);
    }

    // Buffers that only stand in for what a reader without the extension would load, and hold nothing.
    void fallbacks() {
        for (std::size_t b = 0; b < json_["buffers"].size(); ++b) {
            Json& buffer = json_["buffers"][b];
            if (!buffer.contains("uri") && !(b == 0 && binary_ && rest_.size() > 8))
                buffer = {{"byteLength", 4}, {"uri", "data:application/octet-stream;base64,AAAAAA=="}};
        }
    }

    void forget(const char* list) {
        if (!json_.contains(list))
            return;
        Json left = Json::array();
        for (const Json& e : json_[list])
            if (e != kMeshopt && e != kDraco)
                left.push_back(e);
        if (left.empty())
            json_.erase(list);
        else
            json_[list] = std::move(left);
    }
};

} // namespace

UnpackedGltf unpackGltf(const std::string& bytes, const std::string& folder) {
    return Unpacker(bytes, folder).unpack();
}

} // namespace hobble
