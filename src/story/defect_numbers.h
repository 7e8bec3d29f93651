#pragma once
// What the runs of each build say of a defect: its measure at the angle it was seen at, at its worst, and
// against the angle.
#include "core/judge/limits.h"
#include "log/production_log.h"

namespace hobble {

struct BuildNumber {
    Build build;
    QDateTime at;
    std::vector<std::pair<double, double>> curve; // where in the motion, and the measure
    double here = 0, worst = 0;                   // at the defect's place, and over the motion
    int severity = 0;                             // of the worst, by today's limits
};

/// Builds whose runs had that motion and joint, in their order. `limits`: for their severity.
std::vector<BuildNumber> numbersOf(const DefectFacts& facts, const QVector<KeptRun>& runs,
                                   const Limits& limits = Limits::standard());

/// The measure as people say it: "0.38", "12 %", "17 mm".
QString numberWords(const DefectFacts& facts, double value);

} // namespace hobble
