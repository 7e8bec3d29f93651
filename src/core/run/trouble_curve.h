#pragma once
// A motion's trouble along its steps: the worst measure over its limit at each, where it first passes one,
// where it is worst, and how it differs from an earlier build's.
#include "core/run/run.h"

namespace hobble {

struct TroubleCurve {
    std::vector<double> at;       // rising, in the motion's unit; without the neutral it ends in
    std::vector<double> trouble;  // 1 is the first limit; empty when nothing was measured
    double onset = -1, peak = -1; // in the motion's unit; −1 when the motion stays within limits
    double worst = 0;             // trouble at the peak
    int severity = 0;             // of the worst measure
};

/// Of the worst measure at each step, or of one kind.
TroubleCurve troubleCurve(const std::vector<JointRole>& roles, const MotionResult& result,
                          const Limits& limits, std::optional<Kind> only = std::nullopt);

/// Between steps, along the straight line.
double troubleAt(const TroubleCurve& curve, double at);

/// A change counts from a quarter of the limit, where one of the two comes to it.
inline constexpr double kLeastChange = 0.25, kNearLimit = 1;

/// The largest change of trouble along the angle, positive for worse; 0 where none counts. Where the earlier
/// plan did not go, nothing is compared. `where`: at which angle, where one counts.
double changeSince(const TroubleCurve& before, const TroubleCurve& now, double* where = nullptr);

/// Over the share of their own ranges, the worst of several curves: at 0, 5 … 100 per cent.
struct SharedCurve {
    TroubleCurve curve; // empty until a member was added
    int worst = -1;     // the motion that is worst of all
    void add(int motion, double limit, const TroubleCurve& member);
};

/// One measure of a joint along a motion, where it is defined.
struct MeasureLine {
    std::vector<double> at, value, trouble; // trouble: 1 is the first limit
};

/// `joint` −1: of whichever joint of a step has it first, for what concerns the whole pose. `trouble` is told
/// the value and the joint.
MeasureLine measureLine(const MotionResult& result, int joint,
                        const std::function<std::optional<double>(const ZoneMeasures&)>& value,
                        const std::function<double(double value, int joint)>& trouble);

/// The line's value between its steps; nothing beyond its end.
std::optional<double> valueOn(const MeasureLine& line, double at);

/// Where in a run's steps a value stands at `at`: between those on either side where both are defined.
/// `value` gives it at a step, where it is defined there.
std::optional<double> valueAlong(const MotionResult& result, double at,
                                 const std::function<std::optional<double>(const StepResult&)>& value);

} // namespace hobble
