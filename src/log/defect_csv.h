#pragma once
// Defects as a table for spreadsheets (RFC 4180, UTF-8 with a mark), and what was changed there in again. A
// text that a spreadsheet would take for a formula gets an apostrophe before it, which is taken off again on
// the way in.
#include "log/production_log.h"

namespace hobble {

/// What was said of a defect, a line each: the cell of its comments.
QString commentsIn(const QVector<DefectEvent>& history);

/// `comments`: per defect, all of them in one cell; may be shorter than `defects`.
QByteArray defectsToCsv(const QVector<Defect>& defects, const QVector<QString>& comments = {});

struct CsvChanges {
    QVector<DefectChange> changes;              // of severity, state, who, due; a new comment
    QVector<std::pair<DefectFacts, int>> fresh; // rows without a number: what, and its severity
    QStringList problems;                       // rows that say nothing that could be done
};

/// The difference between the table and the defects as they are.
Result<CsvChanges> changesFromCsv(const QByteArray& csv, const QVector<Defect>& defects,
                                  const QVector<BuildState>& builds);

struct CsvTaken {
    int changes = 0, fresh = 0;
    QStringList problems; // rows that were not taken, clashes among them
};

/// Reads such a file and writes what it changes, all at once.
Result<CsvTaken> takeCsv(const QString& path, ProductionLog& log, const QString& author);

/// One line of cells, quoted where needed, and defused.
QByteArray csvLine(const QStringList& cells);

} // namespace hobble
