#pragma once
// Triangles beyond a limit that touch each other make a patch; a patch must cover a least share of its zone
// (a spike, a leak and what concerns a whole part need not). Each patch is told at the joint of the motion
// whose blend it lies in, or at the joint from afar that holds it. What rigid parts do is told by their
// rigidity alone.
#include "core/judge/limits.h"
#include "core/measure/measured.h"
#include "core/measure/region.h"

namespace hobble {

struct Patch {
    Kind kind = Kind::Stretch;
    double value =
        1; // what at least the smallest counting area of it exceeds: a single triangle decides nothing
    double area = 0;                      // m², neutral
    std::vector<std::uint32_t> triangles; // of the surface, ascending
};

struct PosePatch {
    int joint = -1;
    Patch patch;
};
using PosePatches = std::vector<PosePatch>;

/// The patches of one pose of a measured motion.
PosePatches findPatches(const Subject& subject, const Motion& motion, const MeasuredMotion& measured,
                        std::size_t pose, const Limits& limits);

/// What has to be kept of a measurement so that these limits can be judged: the usual floors, lower where a
/// limit lies below.
Floors floorsFor(const Limits& limits);

} // namespace hobble
