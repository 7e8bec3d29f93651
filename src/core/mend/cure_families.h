#pragma once
// What could cure a fault: for each of its likely causes a few kinds of steps, each with one number that is
// still free. What comes of them is tried by cure.h. Our own; docs/mend.md has the table.
#include "core/mend/trial.h"
#include "core/run/run.h"

namespace hobble {

/// What is to be cured: signs that have one place, and what they may come from.
struct CureGoal {
    int joint = -1;
    std::vector<int> signs;    // of the run's findings, the one that tells it first
    std::vector<Cause> causes; // likeliest first
};
CureGoal goalOf(const RunResult& run, const Fault& fault);
/// Of one finding alone.
CureGoal goalOf(const RunResult& run, int finding);

enum class FreeNumber { None, Amount, Count };

struct CureFamily {
    const char* name; // "pass", for reports
    std::vector<Step> steps;
    FreeNumber free = FreeNumber::None; // of the last step
    std::vector<double> values;         // to be tried first, rising; between them the search goes on
    bool otherSide = false;             // takes what the other side has
    bool undoes = false;                // the very thing the likeliest cause names
};

/// In the order of the causes; each once.
std::vector<CureFamily> cureFamilies(const Subject& subject, const RunResult& run, const CureGoal& goal);

/// Why weights do not cure what comes from such a cause, or who could; empty where they may.
std::string beyondWeights(CauseKind kind);

} // namespace hobble
