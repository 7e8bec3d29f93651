#pragma once
// Leak: how far a vertex outside the zone goes from where it should be when the motion's joints turn. It
// should have stayed, or moved rigidly with one of them. Metres; relative to the body's height where it is
// judged.
#include "core/measure/region.h"

namespace hobble {

/// `world` are the posed joints. `out` has one value per region vertex, 0 inside the zones of the motion's
/// joints and where a shape that fades in moves the skin on purpose.
void leaks(const Subject& subject, const Motion& motion, const MotionRegion& region,
           const std::vector<Transform>& world, const std::vector<Vec3>& posedWelded,
           std::vector<float>& out);

} // namespace hobble
