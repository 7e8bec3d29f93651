#include "io/gltf_container.h"

#include "io/base64.h"

#include <cstring>

namespace hobble {

namespace {

constexpr std::uint32_t kJson = 0x4E4F534A, kBin = 0x004E4942;

std::uint32_t word(const std::string& bytes, std::size_t at) {
    std::uint32_t out = 0;
    if (at + 4 <= bytes.size())
        std::memcpy(&out, bytes.data() + at, 4);
    return out;
}
void put(std::string& bytes, std::uint32_t value) { bytes.append(reinterpret_cast<const char*>(&value), 4); }

} // namespace

GltfContainer::GltfContainer(const std::string& bytes) : binary_(bytes.compare(0, 4, "glTF") == 0) {
    std::string text = bytes;
    if (binary_) {
        const std::size_t length = word(bytes, 12);
        text = bytes.substr(20, length);
        for (std::size_t at = 20 + length; at + 8 <= bytes.size();) {
            const std::size_t size = word(bytes, at);
            const std::string chunk = bytes.substr(at + 8, size);
            if (word(bytes, at + 4) == kBin && bin_.empty())
                bin_ = chunk;
            else
                rest_ += bytes.substr(at, 8 + size);
            at += 8 + size;
        }
    } else if (text.compare(0, 3, "\xEF\xBB\xBF") == 0) {
        text.erase(0, 3);
    }
    document = GltfDocument::parse(text);
}

std::size_t GltfContainer::append(const std::string& data, int component, const char* type, std::size_t count,
                                  bool normalized, bool ofVertices) {
    GltfDocument accessor{{"bufferView", view(data, ofVertices)},
                          {"componentType", component},
                          {"count", count},
                          {"type", type}};
    if (normalized)
        accessor["normalized"] = true;
    document["accessors"].push_back(std::move(accessor));
    return document["accessors"].size() - 1;
}

std::size_t GltfContainer::appendShape(const ShapeTarget& shape, std::size_t count) {
    Vec3 low = Vec3::Zero(), high = Vec3::Zero(); // of those that stay
    if (!shape.delta.empty() && shape.delta.size() == count)
        low = high = shape.delta.front();
    std::string where, deltas;
    for (std::size_t i = 0; i < shape.vertex.size(); ++i) {
        where.append(reinterpret_cast<const char*>(&shape.vertex[i]), 4);
        deltas.append(reinterpret_cast<const char*>(shape.delta[i].data()), 12);
        low = low.cwiseMin(shape.delta[i]);
        high = high.cwiseMax(shape.delta[i]);
    }
    GltfDocument accessor{{"componentType", 5126}, {"count", count}, {"type", "VEC3"}};
    accessor["min"] = {low.x(), low.y(), low.z()};
    accessor["max"] = {high.x(), high.y(), high.z()};
    if (!shape.vertex.empty())
        accessor["sparse"] = {{"count", shape.vertex.size()},
                              {"indices", {{"bufferView", view(where, false)}, {"componentType", 5125}}},
                              {"values", {{"bufferView", view(deltas, false)}}}};
    document["accessors"].push_back(std::move(accessor));
    return document["accessors"].size() - 1;
}

std::string GltfContainer::joined() {
    place();
    std::string text = document.dump();
    if (!binary_)
        return text + "\n";
    text.resize((text.size() + 3) / 4 * 4, ' ');
    std::string out = "glTF", body;
    const auto chunk = [&](std::uint32_t kind, const std::string& data) {
        put(body, static_cast<std::uint32_t>(data.size()));
        put(body, kind);
        body += data;
    };
    chunk(kJson, text);
    if (!bin_.empty())
        chunk(kBin, bin_);
    body += rest_;
    put(out, 2);
    put(out, static_cast<std::uint32_t>(12 + body.size()));
    return out + body;
}

std::size_t GltfContainer::view(const std::string& data, bool ofVertices) {
    GltfDocument view{{"buffer", 0}, {"byteOffset", 0}, {"byteLength", data.size()}};
    if (ofVertices)
        view["target"] = 34962;
    added_.resize((added_.size() + 3) / 4 * 4, '\0');
    view["byteOffset"] = added_.size(); // from where the added bytes begin, until that is known
    added_ += data;
    document["bufferViews"].push_back(std::move(view));
    ++views_;
    return document["bufferViews"].size() - 1;
}

// What was added goes into the binary chunk where there is one, else into a buffer of its own.
void GltfContainer::place() {
    if (added_.empty())
        return;
    added_.resize((added_.size() + 3) / 4 * 4, '\0');
    std::size_t buffer = document["buffers"].size(), from = 0;
    if (binary_ && buffer > 0 && !document["buffers"][0].contains("uri") && !bin_.empty()) {
        bin_.resize((bin_.size() + 3) / 4 * 4, '\0');
        buffer = 0;
        from = bin_.size();
        bin_ += added_;
        document["buffers"][0]["byteLength"] = bin_.size();
    } else {
        document["buffers"].push_back({{"byteLength", added_.size()},
                                       {"uri", "data:application/octet-stream;base64," + toBase64(added_)}});
    }
    GltfDocument& views = document["bufferViews"];
    for (std::size_t v = views.size() - views_; v < views.size(); ++v) {
        views[v]["buffer"] = buffer;
        views[v]["byteOffset"] = from + views[v]["byteOffset"].get<std::size_t>();
    }
    added_.clear();
    views_ = 0;
}

} // namespace hobble
