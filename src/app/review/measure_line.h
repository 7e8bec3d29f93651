#pragma once
// The measures of the reading, and what a run found of one along the angle: here, on the mirrored side, and
// in the earlier build.
#include "app/session/run_desk.h"
#include "core/run/trouble_curve.h"

namespace hobble {

// What the shape at hand says at any angle, then what the run measured at its steps.
enum Measure { Stretch, Squash, Volume, Pinch, Area, Shear, FirstOfRun };
inline constexpr int kMeasureCount = FirstOfRun + 14;

QString nameOfMeasure(int measure);
std::optional<double> valueOfMeasure(int measure, const ZoneMeasures& zone);
/// The kind of fault a value counts towards; volume has one on either side. Area and shear have no limit.
std::optional<Kind> kindOfMeasure(int measure, double value);
/// In the unit people think in: millimetres for what is kept as a share of the body or the limb.
QString measureWords(const Subject& subject, int joint, int measure, double value);
/// The factor from a value to that unit, and its name: "" for a ratio.
std::pair<double, QString> measureUnit(const Subject& subject, int joint, int measure);

struct MeasureLines {
    MeasureLine here, otherSide, earlier; // empty where there is none
};

/// Of a joint in a motion; what concerns the whole pose stands at the motion's first joint.
MeasureLines measureLines(const BuildDesk& build, const PlanDesk& plan, const RunDesk& run, int motion,
                          int joint, int measure);

} // namespace hobble
