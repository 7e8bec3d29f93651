#pragma once
// The skin a motion can deform: everything that does not go rigidly with one side or the other. Outside it
// every strain is 1 and nothing is rough, so nothing has to be computed there.
#include "core/measure/subject.h"
#include "core/pose/motion.h"

namespace hobble {

struct MotionRegion {
    std::uint64_t id = 0;                   // no two that were made have the same; 0: put together by hand
    std::vector<std::uint32_t> vertices;    // welded, ascending
    std::vector<std::uint32_t> triangles;   // of the surface, ascending: those with such a corner
    std::vector<Triangle> corners;          // of those triangles: welded vertices
    std::vector<Triangle> numbers;          // and the same as places in `vertices`
    std::vector<RestTriangle> rest;         // of those triangles
    std::vector<std::uint32_t> numberOf;    // per welded vertex its place in `vertices`, or kNone
    std::vector<char> shaped;               // per welded vertex: a shape that fades in moves it on purpose
    std::vector<std::vector<float>> follow; // per turn of the motion, per welded vertex: C(v)

    static constexpr std::uint32_t kNone = ~0u;
};

MotionRegion motionRegion(const Subject& subject, const Motion& motion);

} // namespace hobble
