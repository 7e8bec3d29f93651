#pragma once
// What a batch says of one character, and how it is kept: docs/schema/batch.schema.json, a row of it.
#include "batch/batch_list.h"

namespace hobble {

struct BatchFault {
    int severity = 0;
    std::string joint, kind, sentence;
};

struct BatchRow {
    /// NotEntered: it was measured, and the log that was to keep it could not be reached.
    enum class State { Tested, Unreadable, Crashed, TooLong, OutOfMemory, Stopped, NotEntered };

    BatchCharacter character;
    std::string key; // by content: build, plan, limits, names and method
    State state = State::Stopped;
    std::string why; // not tested
    std::string name, hash;
    double seconds = 0;
    double coverage = 0; // share of the skin that the plan moves
    int motions = 0, findings = 0;
    std::vector<std::string> joints; // that were tested
    std::vector<BatchFault> faults;  // most urgent first
    int checked = 0, notCured = 0;   // open defects of the log
    int worstNotCured = 0;           // their worst severity
    bool known = false;              // tested by a batch before this one; nothing was measured again
    std::string report;              // a page, from the batch's folder; empty: none was made

    int worst() const;
    bool failsAt(int severity) const; // 0: never
};

const char* nameOf(BatchRow::State state); // "tested", "unreadable", …

/// The run as `hobble-cli run --json` wrote it, and what `hobble-cli check --json` did; an error for anything
/// else. `row` keeps what it has.
Result<Done> takeRun(BatchRow& row, const std::string& runJson);
Result<Done> takeCheck(BatchRow& row, const std::string& checkJson);

std::string rowToJson(const BatchRow& row);
Result<BatchRow> rowFromJson(const std::string& text);

} // namespace hobble
