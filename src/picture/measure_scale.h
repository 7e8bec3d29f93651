#pragma once
// Colours of a measure on the skin: perceptually even ramps whose stops are the limits of the joint looked
// at, so that a colour says how bad it is.
#include "core/judge/limits.h"

#include <QColor>
#include <QString>

#include <vector>

namespace hobble {

struct Subject;

/// Squash, pinch and loss: limits from blocking to minor; pale in between; stretch and gain: minor to
/// blocking.
const std::vector<QColor>& lessRamp();
QColor unchangedColour();
const std::vector<QColor>& moreRamp();
/// Depth, leak and whatever else only grows: minor to blocking.
const std::vector<QColor>& depthRamp();
/// Weights: none to all.
const std::vector<QColor>& weightRamp();

struct ColourStop {
    double value;
    QColor colour;
    int severity = 0; // of the limit it stands for; 0 for none
};

struct ColourScale {
    std::vector<ColourStop> stops; // values rising
    QString below, above;          // words at its ends
    /// In the unit people think in.
    QString words(double value) const;
    double unit = 1; // factor from a value to what is said
    QString suffix;  // " mm", " %"
    int decimals = 2;

    Vec3 at(double value) const; // 0 … 1 each
};

/// Of what a kind of fault measures, at a joint or (−1) anywhere.
ColourScale scaleOf(Kind kind, const Subject& subject, const Limits& limits, int joint);

// Limits of a kind that only grows, from unchanged on.
void riseInSteps(ColourScale& scale, Kind kind, const LimitSteps& limits);
// Squash on one side of unchanged, stretch on the other; either may be missing.
void divergeInSteps(ColourScale& scale, const LimitSteps* less, const LimitSteps* more);

} // namespace hobble
