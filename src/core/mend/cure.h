#pragma once
// Cures that were tried: for a fault, the steps that would take its trouble away, found by trying them on the
// poses that show it, and proved on every motion that any changed vertex takes part in. Our own.
//
// Trouble is area over the limit, along the whole range of a motion (core/compare/differences.h): not only
// the peak counts.
#include "core/compare/differences.h"
#include "core/mend/cure_families.h"
#include "core/progress.h"

namespace hobble {

struct Cure {
    const char* name = "";
    std::vector<Step> steps;
    bool otherSide = false, undoes = false; // as its family says

    // Of the sign that tells the fault, at its worst
    Kind kind = Kind::Stretch;
    int joint = -1, motion = -1;
    double was = 1, is = 1, limit = 1; // in the kind's own measure

    double troubleWas = 0, troubleIs = 0; // of the fault's measures
    double allWas = 0, allIs = 0;         // of every measure of every motion
    // Harm; what the other side of the body shows as much of is none.
    std::vector<MeasureChange> worse;     // past a limit, and more of it than there was; the worst first
    int newFindings = 0;                  // of severity 2 and more, of a kind and joint that had none
    std::size_t vertices = 0, joints = 0; // whose weights are others
    double most = 0, moved = 0;           // the largest change of a share, and all of them together

    /// The share of the fault's trouble that goes; below 0 where it grows.
    double gone() const { return troubleWas > 0 ? 1 - troubleIs / troubleWas : 0; }
    bool harms() const { return !worse.empty() || newFindings > 0; }
};

struct Cures {
    std::vector<Cure> cures;  // that take a tenth of the trouble away or more, the one to take first
    std::string nothing;      // why none does; empty where one does
    std::size_t tried = 0;    // settings
    std::size_t measured = 0; // motions, to prove those that were best
    bool stopped = false;
};

struct CureOptions {
    Limits limits = Limits::standard();
    int threads = 0;
    std::size_t proved = 5; // so many of the best are proved
    Progress progress;
    std::function<void(const Cure&)> found; // as each is proved, from the thread that searches
};

/// Searches cures on one build. Keeps what was measured of it.
class CureSearch {
public:
    /// `plan` as it was asked for; `run` is of it, whole. `known` has what was measured for it, or is filled.
    CureSearch(std::shared_ptr<const Subject> subject, Plan plan, std::shared_ptr<const RunResult> run,
               MeasuredStore& known);

    /// The same after some steps are taken: `subject` is the build with them, `run` of that.
    CureSearch(std::shared_ptr<const Subject> build, std::vector<Step> done,
               std::shared_ptr<const Subject> subject, Plan plan, std::shared_ptr<const RunResult> run,
               MeasuredStore& known);

    Cures search(const CureGoal& goal, const CureOptions& options = {}) const;

    /// `character` is what the steps make of it; made ready to be measured, with no more work than they ask
    /// for.
    std::shared_ptr<const Subject> with(const std::vector<Step>& steps,
                                        std::shared_ptr<const Character> character) const;

    /// One list of steps tried as a whole.
    Cure prove(const std::vector<Step>& steps, const CureGoal& goal, const CureOptions& options = {}) const;

private:
    struct Tried;
    Trial trialOf(const std::vector<Step>& steps) const;

    std::shared_ptr<const Subject> build_;
    std::vector<Step> done_;
    std::shared_ptr<const Subject> subject_;
    Plan plan_;
    std::shared_ptr<const RunResult> run_;
    MeasuredStore& known_;
    JointPairing itself_;
};

/// "stretch 4.64 → 1.31 (limit 1.35), 94 % of the trouble goes; over 214 vertices"
std::string sentence(const Cure& cure, const Subject& subject);

/// The whole run: most urgent fault first, each cure kept only when the run as a whole gets better and
/// nothing comes past a limit that was not.
struct CuredAll {
    Trial trial;
    std::vector<std::pair<int, Cure>> taken; // fault of the run as it stood then, and what was done
    std::shared_ptr<const Subject> subject;  // with all of it
    std::shared_ptr<const RunResult> run;    // of that
    bool stopped = false;
};
CuredAll cureAll(std::shared_ptr<const Subject> subject, Plan plan, std::shared_ptr<const RunResult> run,
                 MeasuredStore& known, const CureOptions& options = {}, int most = 12);

} // namespace hobble
