#pragma once
// Cures that were tried: for a fault, the steps that would take its trouble away, found by trying them on the
// poses that show it, and proved on every motion that any changed vertex takes part in. Our own.
#include "core/mend/effect.h"
#include "core/mend/mended.h"
#include "core/mend/trial.h"
#include "core/progress.h"

namespace hobble {

struct Cure : MendEffect {
    const char* name = "";
    std::vector<Step> steps;
    bool otherSide = false, undoes = false; // as its family says
    bool adds = false;                      // a joint or a shape that the build does not have
    WeightChange changed;
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
    /// As each is proved, from the thread that searches. The first that helps comes before the search goes
    /// on.
    std::function<void(const Cure&)> found;
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

    /// One list of steps tried as a whole.
    Cure prove(const std::vector<Step>& steps, const CureGoal& goal, const CureOptions& options = {}) const;

private:
    struct Tried;
    Trial trialOf(const std::vector<Step>& steps) const;
    std::shared_ptr<const Subject> with(const std::vector<Step>& steps, const TriedSteps& worked) const;

    std::shared_ptr<const Subject> build_;
    std::vector<Step> done_;
    std::shared_ptr<const Subject> subject_;
    Plan plan_;
    std::shared_ptr<const RunResult> run_;
    MeasuredStore& known_;
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
