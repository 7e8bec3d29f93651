#pragma once
// Assembles small glTF files, valid or broken on purpose, independently of Hobble's own writer.
#include <nlohmann/json.hpp>

#include <cstring>
#include <fstream>
#include <string>
#include <vector>

namespace hobble::test {

class GltfBuilder {
public:
    nlohmann::json doc{{"asset", {{"version", "2.0"}}}, {"scene", 0}};
    std::string bytes;

    template <class T> int view(const std::vector<T>& values, int stride = 0) {
        while (bytes.size() % 4)
            bytes.push_back(0);
        const auto offset = bytes.size();
        bytes.append(reinterpret_cast<const char*>(values.data()), values.size() * sizeof(T));
        doc["bufferViews"].push_back(
            {{"buffer", 0}, {"byteOffset", offset}, {"byteLength", values.size() * sizeof(T)}});
        if (stride)
            doc["bufferViews"].back()["byteStride"] = stride;
        return int(doc["bufferViews"].size()) - 1;
    }

    int accessor(int bufferView, int componentType, const char* type, std::size_t count,
                 bool normalized = false, std::size_t byteOffset = 0) {
        doc["accessors"].push_back({{"componentType", componentType}, {"type", type}, {"count", count}});
        if (bufferView >= 0)
            doc["accessors"].back()["bufferView"] = bufferView;
        if (byteOffset)
            doc["accessors"].back()["byteOffset"] = byteOffset;
        if (normalized)
            doc["accessors"].back()["normalized"] = true;
        return int(doc["accessors"].size()) - 1;
    }

    template <class T>
    int accessor(const std::vector<T>& values, int componentType, const char* type, int components,
                 bool normalized = false) {
        return accessor(view(values), componentType, type, values.size() / components, normalized);
    }

    int node(nlohmann::json n) {
        doc["nodes"].push_back(std::move(n));
        return int(doc["nodes"].size()) - 1;
    }

    std::string glb() { return glb(json()); }
    std::string json() {
        doc["buffers"] = {{{"byteLength", bytes.size()}}};
        return doc.dump();
    }
    std::string glb(std::string text) const {
        std::string bin = bytes, out;
        text.resize((text.size() + 3) / 4 * 4, ' ');
        bin.resize((bin.size() + 3) / 4 * 4, 0);
        auto word = [&](std::uint32_t x) { out.append(reinterpret_cast<const char*>(&x), 4); };
        word(0x46546C67);
        word(2);
        word(std::uint32_t(28 + text.size() + bin.size()));
        word(std::uint32_t(text.size()));
        word(0x4E4F534A);
        out += text;
        word(std::uint32_t(bin.size()));
        word(0x004E4942);
        return out + bin;
    }

    static void save(const std::string& path, const std::string& content) {
        std::ofstream(path, std::ios::binary) << content;
    }
};

/// A bar of eight corners along +Y on two joints, "base" at the origin and "tip" at y = 1, the upper four
/// corners on "tip". The arrays are the corners' so that variants can store them otherwise.
struct Bar {
    std::vector<float> positions{-1, 0, -1, 1, 0, -1, 1, 0, 1, -1, 0, 1,
                                 -1, 2, -1, 1, 2, -1, 1, 2, 1, -1, 2, 1};
    std::vector<std::uint16_t> triangles{0, 1, 2, 0, 2, 3, 4, 6, 5, 4, 7, 6, 0, 4, 5, 0, 5, 1,
                                         1, 5, 6, 1, 6, 2, 2, 6, 7, 2, 7, 3, 3, 7, 4, 3, 4, 0};
    std::vector<std::uint8_t> joints{0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0,
                                     1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0};
    std::vector<float> weights{1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0,
                               1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0};
    std::vector<float> inverseBind{1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0,  0, 1,
                                   1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, -1, 0, 1};

    /// Nodes 0 "base" and 1 "tip", skin 0, and one mesh node 2 "bar".
    GltfBuilder build() const {
        GltfBuilder b;
        b.node({{"name", "base"}, {"children", {1}}});
        b.node({{"name", "tip"}, {"translation", {0, 1, 0}}});
        b.doc["skins"] = {
            {{"joints", {0, 1}}, {"inverseBindMatrices", b.accessor(inverseBind, 5126, "MAT4", 16)}}};
        nlohmann::json primitive;
        primitive["attributes"] = {{"POSITION", b.accessor(positions, 5126, "VEC3", 3)},
                                   {"JOINTS_0", b.accessor(joints, 5121, "VEC4", 4)},
                                   {"WEIGHTS_0", b.accessor(weights, 5126, "VEC4", 4)}};
        primitive["indices"] = b.accessor(triangles, 5123, "SCALAR", 1);
        b.doc["meshes"] = {{{"name", "barMesh"}, {"primitives", {primitive}}}};
        b.node({{"name", "bar"}, {"mesh", 0}, {"skin", 0}});
        b.doc["scenes"] = {{{"nodes", {0, 2}}}};
        return b;
    }
};

} // namespace hobble::test
