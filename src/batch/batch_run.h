#pragma once
// A batch of characters, each tested by a process of its own (hobble-cli run, and check), so that one that
// crashes, hangs or eats memory costs its own row. What was tested is known by its content and not tested
// again, so a batch that was stopped goes on when it is asked for again.
#include "batch/batch_row.h"

#include <QString>

#include <atomic>
#include <functional>

namespace hobble {

class ProductionLog;

struct BatchProgress {
    int done = 0, of = 0;
    double secondsLeft = -1;       // −1: not known yet
    const BatchRow* row = nullptr; // the one that was finished just now
};

struct BatchOptions {
    QString program; // hobble-cli
    QString folder;  // of results, reports and what was measured; made where it is missing
    std::string plan, limits, log, method = "linear"; // empty: the full plan, standard limits, no log
    std::string variants, variant;                    // of characters whose list names none
    bool singles = false;
    bool check = false;   // the log's open defects too
    bool reports = true;  // a page for each character
    bool afresh = false;  // test again what is known
    int failAt = 0;       // 0: never
    int jobs = 0;         // at once; 0: as many as there are cores
    int threads = 0;      // of each; 0: the cores shared out
    bool entries = false; // beside each result, what a log keeps of it, to be entered later
    int secondsEach = 1800, megabytesEach = 4096;
    std::function<void(const BatchProgress&)> progress;
    const std::atomic<bool>* cancel = nullptr; // what runs is ended, what is done is kept
};

/// One row for each character, in their order; an error where the folder cannot be written. Needs a
/// QCoreApplication.
Result<std::vector<BatchRow>> runBatch(const std::vector<BatchCharacter>& characters,
                                       const BatchOptions& options);

/// Names what is tested and how, by the content of all files it depends on; empty where the character's file
/// cannot be read.
std::string batchKey(const BatchCharacter& character, const BatchOptions& options);

/// The rows as they were kept in the folder, with nothing tested: of the same batch, whoever tested it. Where
/// no result is and nobody said why, the row says so.
std::vector<BatchRow> keptRows(const std::vector<BatchCharacter>& characters, const BatchOptions& options);

/// What a log keeps of those rows, entered: each once, however often this is asked for.
Result<Done> enterKept(ProductionLog& log, const std::vector<BatchRow>& rows, const BatchOptions& options);

} // namespace hobble
