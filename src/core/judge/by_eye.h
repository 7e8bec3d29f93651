#pragma once
// A finding that a person marked on the skin and no rule found.
#include "core/judge/findings.h"
#include "core/measure/measured.h"

namespace hobble {

/// Of a measure over the skin (skin_values.h), what at least a hundredth of these triangles reaches.
double valueOn(const Subject& subject, const std::vector<float>& values, Kind kind,
               const std::vector<std::uint32_t>& triangles);

/// `triangles` of the surface, ascending, not empty. Told at the motion's joint they belong to, or the one
/// that holds them from afar. `measured` is the motion's one pose at `degrees`, without floors: what the
/// kind's measure says of the marked skin becomes the value; its severity is that of the joint's limits, at
/// least 1.
Finding findingByEye(const Subject& subject, const Plan& plan, int motion, const MeasuredMotion& measured,
                     double degrees, Kind kind, const Limits& limits, std::vector<std::uint32_t> triangles);

/// The kind whose measure is worst on the marked skin, against the limits of the joint it belongs to.
Kind worstKindAt(const Subject& subject, const Motion& motion, const MeasuredMotion& measured,
                 const Limits& limits, const std::vector<std::uint32_t>& triangles);

} // namespace hobble
