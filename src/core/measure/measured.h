#pragma once
// What a motion was found to do, free of any limit: enough to judge it again and again without measuring.
// Values too near "unchanged" for any sensible limit are left out (Floors), so that a pose is a few
// kilobytes.
#include "core/measure/zone.h"

#include <memory>

namespace hobble {

struct Sample {
    std::uint32_t at = 0; // a surface triangle, or a welded vertex
    float value = 0;
};
using Samples = std::vector<Sample>; // ascending

/// From where on values are kept; all of them, where nothing else is said (judge/patches.h: floorsFor).
struct Floors {
    float stretch = 1, squash = 1, roughness = 0;
    float leak = 0; // / body height
    float pop = 0;  // / body height
    float lag = 0;  // share of the turn
    bool operator==(const Floors&) const = default;
};

struct MeasuredPose {
    double at = 0;                      // in the unit of the motion
    std::vector<ZoneMeasures> zones;    // per turn of the motion; the first has what concerns the whole pose
    Samples stretch, squash;            // per triangle: beyond their floors
    Samples roughness;                  // per vertex, edges
    std::vector<std::uint32_t> flipped; // triangles, ascending
    Samples leak;                       // per vertex, / body height
    Samples lag;                        // per vertex, share of the turn
    Samples inside;                     // per vertex, depth / limb radius of the joint that leads
    Samples poke, gap;                  // per vertex of the inner part, / body height
    Samples bare;                       // per vertex of an eye or of teeth: share that is left bare
    Samples through;                    // likewise: how far it comes through, / its radius
    Samples popped;                     // per triangle: what it kicked on the way to here, / body height
    std::vector<double> softness;       // per rigid part
    std::vector<double> drift;          // per rigid part, / body height
};

struct MeasuredMotion {
    std::vector<MeasuredPose> poses;
    std::vector<std::uint8_t> turnOf; // per surface triangle, which of the motion's turns it belongs to;
                                      // empty where there is only one
};

} // namespace hobble
