#pragma once
// Pop: a sudden kick between two steps. A vertex's path, with the motion's own turning taken out by its share
// of it, is smooth where nothing kicks; where one step goes much farther than its neighbours, the interval is
// halved again and again: what is still left within a sixteenth of a step is a jump.
#include "core/deform/deformer.h"
#include "core/measure/region.h"

namespace hobble {

struct Pop {
    std::size_t step = 0;      // between this one and the next
    double at = 0;             // where
    std::vector<float> metres; // per region vertex
    float most = 0;
};

/// `paths` holds the region's vertices at each step but the last; `least`, metres, is what is worth looking
/// for.
std::vector<Pop> pops(const Subject& subject, const Motion& motion, const MotionRegion& region,
                      Skinning method, const std::vector<std::vector<Vec3>>& paths, double least);

} // namespace hobble
