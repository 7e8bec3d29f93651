#pragma once
// What a log keeps of a run, as a file of its own: where no server is reached while runs are made (a task of
// a cluster), their entries are entered later, by one hand. docs/schema/log-entry.schema.json
#include "log/production_log.h"

namespace hobble {

struct RunEntry {
    QString character, hash, path, formerHash; // of the build
    RunSummary run;                            // its buildId is not used
};

QByteArray toJson(const RunEntry& entry);
Result<RunEntry> runEntryFromJson(const QByteArray& json);

/// Enters the build where it is new, and the run: once, where it has a key.
Result<Done> enterRun(ProductionLog& log, const RunEntry& entry);

} // namespace hobble
