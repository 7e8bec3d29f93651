#pragma once
// Triangles beyond a limit that touch each other make a patch; a patch must cover a least share of its zone
// (a spike, a leak and what concerns a whole part need not). Each patch is told at the joint of the motion
// whose blend it lies in, or at the joint from afar that holds it. What rigid parts do is told by their
// rigidity alone.
#include "core/judge/limits.h"
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

/// Everything measured in one pose over the motion's region.
struct PoseFields {
    std::vector<Vec3> posed;      // per welded vertex
    std::vector<Transform> world; // per joint
    std::vector<Strain> strain;   // per region triangle
    Roughness rough;              // per region vertex
    std::vector<char> flipped;    // per region triangle
    std::vector<float> leak;      // per region vertex, metres
    Contact contact;
    Cover cover;
    std::vector<double> softness; // per rigid part
    std::vector<double> drift;    // per rigid part, metres
};

/// Which of the motion's turns each region triangle belongs to: the one whose blend is strongest there.
std::vector<int> turnOfTriangles(const Subject& subject, const Motion& motion, const MotionRegion& region);

/// The patches of one pose; `zones` are the measures at each of the motion's joints, and receive what
/// concerns the pose as a whole at the joint that leads.
PosePatches findPatches(const Subject& subject, const Motion& motion, const MotionRegion& region,
                        const std::vector<int>& turnOf, const PoseFields& fields,
                        std::vector<ZoneMeasures>& zones, const Limits& limits);

/// Triangles of a set grouped by touching: sharing a vertex.
std::vector<std::vector<std::uint32_t>> touching(const Surface& surface,
                                                 const std::vector<std::uint32_t>& marked);

} // namespace hobble
