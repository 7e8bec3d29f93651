#pragma once
// A .glb or .gltf taken apart, added to, and put together again: what is not touched stays where it was
// (glTF 2.0, section 4, GLB File Format). Throws what the JSON library throws at a document that is none.
#include "core/character/character.h"

#include <nlohmann/json.hpp>

#include <string>

namespace hobble {

using GltfDocument = nlohmann::ordered_json; // keys stay in the file's order

class GltfContainer {
public:
    explicit GltfContainer(const std::string& bytes);

    GltfDocument document;

    /// Behind all that is there; the accessor's number.
    std::size_t append(const std::string& data, int component, const char* type, std::size_t count,
                       bool normalized, bool ofVertices = true);
    /// How far a shape moves each of so many vertices, with only those that it moves written (glTF 2.0,
    /// section 3.6.2.3, Sparse Accessors).
    std::size_t appendShape(const ShapeTarget& shape, std::size_t count);
    std::string joined();

private:
    std::size_t view(const std::string& data, bool ofVertices);
    void place();

    bool binary_;
    std::string bin_, rest_, added_;
    std::size_t views_ = 0; // that were added
};

} // namespace hobble
