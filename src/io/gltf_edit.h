#pragma once
// A glTF file with other weights, with joints that stand elsewhere or were added, with other shapes and other
// drivers, and all else as it was: what Hobble does not understand (materials, textures, extras, extensions,
// clips) stays in the document, and every byte of the buffers stays where it was. New weights are put behind
// them (glTF 2.0, section 3.7.3.3), and the old ones are no longer referred to.
#include "core/character/character.h"
#include "core/result.h"

namespace hobble {

enum class WeightsAs { Float, Unorm8, Unorm16 }; // of the normalised, sums are exact

struct EditedGltf {
    std::string bytes;              // of a .glb or .gltf, as the file was
    std::vector<std::string> notes; // what could not stay as it was
};

/// `character` as it was read from the file, `weights` for its vertices. At most `influences` to a vertex
/// that was changed (0: all); vertices that were not keep what the file says. Where nothing changed, the
/// file's own bytes. An error where the file is no longer the one that was read, or cannot be written so.
Result<EditedGltf> editWeights(const std::string& path, const Character& character,
                               const SkinWeights& weights, std::size_t influences = 0,
                               WeightsAs as = WeightsAs::Float);

/// The mended character as a new file at `to`: a glTF edited, anything else written as glTF. The notes.
Result<std::vector<std::string>> writeMended(const Character& build, const Character& mended,
                                             const std::string& to, std::size_t influences = 0,
                                             WeightsAs as = WeightsAs::Float);

} // namespace hobble
