#pragma once
// The unit people think in, of what a kind of fault measures: ratios as they are, depths in millimetres of
// this character, shares in per cent.
#include "core/judge/limits.h"

namespace hobble {

struct Subject;

struct MeasureUnit {
    double factor = 1; // from a measure to what is said
    int decimals = 2;
    std::string suffix; // " mm", " %", "°"
};

/// `joint`: the one it is measured at, or −1.
MeasureUnit unitOf(Kind kind, const Subject& subject, int joint);

} // namespace hobble
