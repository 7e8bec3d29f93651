#pragma once
// A character's textures, decoded, and the skin as drawing with them wants it. On any thread; what is the
// same for all who draw a character is made once.
#include "core/character/character.h"

#include <QImage>

namespace hobble {

/// One picture for each texture, as RGBA8888, no side longer than `most`: what is drawn a few hundred pixels
/// high needs no more. One that cannot be decoded is a white point.
std::shared_ptr<const std::vector<QImage>> texturePictures(const Character& character, int most);

/// What a texture shows at a place, display colours 0 … 1 and alpha.
Eigen::Vector4f texelAt(const Texture& texture, const QImage& picture, float u, float v);

/// Corners of triangles that share a vertex and a place in the picture are one again; triangles lie in runs,
/// one for each texture.
struct PaintedSkin {
    struct Run {
        int texture = -1;
        std::size_t first = 0, count = 0; // of `triangles`
    };
    std::vector<std::uint32_t> vertex;       // of the file, for each here
    std::vector<Eigen::Vector2f> uv;         // likewise
    std::vector<Triangle> triangles;         // of these
    std::vector<std::uint32_t> fileTriangle; // likewise
    std::vector<Run> runs;
    std::vector<Vec3> vertexPaint; // per file vertex, what its texture shows there; white where it has none
    std::shared_ptr<const std::vector<QImage>> pictures;
};
PaintedSkin paintedSkin(const Character& character, int most);

} // namespace hobble
