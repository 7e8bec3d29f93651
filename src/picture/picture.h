#pragma once
// Pictures of a character without a window or OpenGL, on any thread: a small z-buffer with soft light. For
// pose thumbnails and contact sheets.
#include "core/character/character.h"

#include <QImage>

namespace hobble {

struct PictureView {
    double yaw = 25, pitch = 8; // degrees about the character, from its front
    Vec3d centre = Vec3d::Zero();
    double height = 1; // metres from the lower to the upper edge
};

/// `colours`: linear RGB per file vertex, in the place of the character's own where there are any.
QImage picture(const Character& character, const std::vector<Vec3>& posed, const PictureView& view, int width,
               int height, bool wire = false, const std::vector<Vec3>& colours = {});

/// Seen a little from the side, all of it in the picture.
PictureView viewOf(const Character& character, const std::vector<Vec3>& posed);

} // namespace hobble
