#pragma once
// A whole log from one place to another, of either kind, with a checksum that says whether all of it arrived;
// and what is wrong with a log.
#include "log/production_log.h"
#include "log/schema.h"

#include <QStringList>

#include <functional>

namespace hobble {

/// Rows done of all; false stops the work, and nothing is written.
using CopyProgress = std::function<bool(qint64 done, qint64 total)>;

/// SHA-256 (FIPS 180-4) over every row of every table in the order of their numbers, as 64 hexadecimal
/// digits. The same content has the same checksum in either kind of log. `version`: of the tables that a log
/// of that version had.
Result<QString> checksumOf(const ProductionLog& log, int version = newestLogVersion());

/// Everything, under the same numbers. `to` has to be empty. What was written is read again and compared
/// before it is kept.
Result<Done> copyLog(const ProductionLog& from, ProductionLog& to, const CopyProgress& progress = {});

struct Added {
    int people = 0, builds = 0, runs = 0, defects = 0;
    int known = 0; // defects that were there already: nothing of them was changed
};

/// Adds to a log what it has not: people by name, builds by content, defects by build, time and what was
/// seen, with all their history, under new numbers.
Result<Added> mergeLog(const ProductionLog& from, ProductionLog& to);

struct LogCheck {
    QStringList problems; // empty: all is well
    QString checksum;
    qint64 defects = 0, events = 0, builds = 0, runs = 0, people = 0;
};

/// The database's own check, references, and whether every defect's state follows from its history.
Result<LogCheck> checkLog(const ProductionLog& log);

} // namespace hobble
