#pragma once
// Leak: how far a vertex outside the zone goes from where it should be when the motion's joints turn. It
// should have stayed, or moved rigidly with one of them. Metres; relative to the body's height where it is
// judged.
#include "core/measure/region.h"

namespace hobble {

/// Where in the region's vertices skin can leak: not inside the zones of the motion's joints, nor where a
/// shape that fades in moves it on purpose.
std::vector<std::uint32_t> outsideZones(const Subject& subject, const Motion& motion,
                                        const MotionRegion& region);

/// `world` are the posed joints, `outside` what outsideZones() gave. `out` has one value per region vertex.
void leaks(const Subject& subject, const Motion& motion, const MotionRegion& region,
           const std::vector<std::uint32_t>& outside, const std::vector<Transform>& world,
           const std::vector<Vec3>& posedWelded, std::vector<float>& out);

} // namespace hobble
