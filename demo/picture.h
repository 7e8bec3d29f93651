#pragma once
// Pictures of the cast without a window: a small z-buffer with soft light, for the contact sheet in the
// README.
#include "core/character/character.h"

#include <QImage>

namespace hobble::demo {

struct View {
    double yaw = 25, pitch = 8; // degrees about the character, from its front
    Vec3d centre = Vec3d::Zero();
    double height = 1; // metres from the lower to the upper edge
};

QImage picture(const Character& character, const std::vector<Vec3>& posed, const View& view, int width,
               int height, bool wire = false);

} // namespace hobble::demo
