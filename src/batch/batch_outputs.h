#pragma once
// A batch for people and for machines. What was not tested is never told as clean.
#include "batch/batch_row.h"

#include <QByteArray>
#include <QString>

namespace hobble {

/// Rows as a person would go through them: what could not be tested, then what fails, the worst first.
std::vector<const BatchRow*> worstFirst(const std::vector<BatchRow>& rows, int failAt);

/// "100 characters: 96 tested (90 known from before), 3 fail at severity 3, 4 could not be tested."
QString batchSentence(const std::vector<BatchRow>& rows, int failAt);

/// Self-contained; reports are linked from the batch's folder.
QString batchPage(const std::vector<BatchRow>& rows, int failAt);
/// docs/schema/batch.schema.json
std::string batchToJson(const std::vector<BatchRow>& rows, int failAt);
/// A row a character: "file,name,build,state,worst,blocking,serious,notable,minor,not cured,coverage,seconds,
/// report,why"; formulas of a spreadsheet are defused.
std::string batchToCsv(const std::vector<BatchRow>& rows);
/// JUnit XML in the dialect that build servers read: a suite for each character, a case for each joint that
/// was tested; a joint fails with its faults at `failAt` (3 where it is 0) or worse, and what could not be
/// tested is an error.
QByteArray batchToJunit(const std::vector<BatchRow>& rows, int failAt);

} // namespace hobble
