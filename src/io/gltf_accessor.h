#pragma once
// Checked reading of glTF accessors: any component type, normalised or not, strided, sparse, or without a
// buffer view (glTF 2.0, section 3.6.2). Every index and length is checked before anything is allocated.
#include "core/result.h"

#include <cstdint>
#include <string>
#include <vector>

namespace tinygltf {
class Model;
}

namespace hobble {

/// `components` numbers for each element. `what` names the data in an error, for example "positions of Body".
/// Fails on a wrong type, on data outside its buffer and on numbers that are not finite.
Result<std::vector<float>> readFloats(const tinygltf::Model& model, int accessor, int components,
                                      const std::string& what);

/// Unsigned whole numbers (indices, joints).
Result<std::vector<std::uint32_t>> readIntegers(const tinygltf::Model& model, int accessor, int components,
                                                const std::string& what);

} // namespace hobble
