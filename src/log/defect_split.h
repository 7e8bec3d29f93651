#pragma once
// A defect taken apart: what was merged into it, or the skin of one part, becomes a defect of its own.
#include "log/production_log.h"

namespace hobble {

/// What a defect could be taken apart into.
struct SplitPart {
    QString words;
    qint64 duplicate = 0; // a defect that was merged into it
    QByteArray finding;   // or a finding that was: its JSON
    QString part;         // or the marks on one part of the character
};

/// Of the finding or the part, as its own defect has them. `defect` with its marks.
DefectFacts factsOf(const Defect& defect, const SplitPart& part);

/// Makes that defect (not of a `duplicate`: that one is there) and says of the other what is no longer its
/// sign. The new one's id.
Result<qint64> splitOff(ProductionLog& log, qint64 from, const SplitPart& part, const QString& author,
                        qint64 buildId = 0);

} // namespace hobble
