#pragma once
// A defect that was logged on an earlier build, asked for on a new one: at its own joint, pose, angle and
// place, by its own measure; then in the neighbouring steps and the other motions of the run. Cured is only
// said when nothing shows it any more. Our own.
#include "core/compare/differences.h"
#include "core/judge/matching.h"

namespace hobble {

enum class Verdict {
    Cured,  // within its limit where it was, and in all that the plan does
    Better, // by more than re-meshing changes, but still there
    Same,
    Worse,
    Moved,     // gone here; a like one, new with this build, at a joint beside it
    CannotTell // what it needs is not there, or only a person can say
};
const char* nameOf(Verdict verdict); // "cured", … "cannot be told"
std::optional<Verdict> verdictCalled(const std::string& name);

/// What was seen, told apart from the build it was seen on.
struct SeenDefect {
    FindingMark mark; // joint, kind and place
    Role role = Role::Unknown;
    Side side = Side::Middle;
    Motion motion;      // its own, on the new build
    double at = 0;      // where in it
    double value = 1;   // of its measure, then
    bool byEye = false; // a person saw it, no limit was passed
};

enum class WhyNot { None, JointGone, MotionGone, PlaceNotFound, MeasureUndefined, SeenByEye };

struct CheckedAgain {
    Verdict verdict = Verdict::CannotTell;
    WhyNot why = WhyNot::None;
    int joint = -1;               // on the new build
    double before = 0, limit = 0; // of the measure; the limit is today's
    std::optional<double> now;    // where it was seen
    int finding = -1;             // of the run: the one that still shows it
    double onset = -1;            // where it starts now; −1 when it does not
    bool elsewhereOnly = false; // within its limit where it was seen, but `finding` shows it in another pose
    int movedTo = -1;           // joint
    bool otherSideLeft = false; // cured or better here, and its mirror still shows it
    std::vector<std::size_t> broke; // of the differences: what got worse at this joint with it
};

struct CheckContext {
    const Subject& subject; // the new build
    const RunResult& run;   // of the plan on it, with the limits to judge by
    /// Against the run of the build it was seen on, `subject` as the second side; null when that has none.
    const Differences* since = nullptr;
};

CheckedAgain checkAgain(const SeenDefect& seen, const CheckContext& context);

/// What a run of an earlier build found, to be asked for in a run of the new one. Without a motion where the
/// new plan has it not.
SeenDefect seenOf(const Subject& then, const RunResult& ran, const Finding& finding, const Plan& now);

/// The joint a defect was told at, on a build that may call it otherwise; −1 when it has none.
int jointSeen(const SeenDefect& seen, const Subject& subject);

} // namespace hobble
