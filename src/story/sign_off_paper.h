#pragma once
// What a sign-off says, from the log and the run; and on one page of paper.
#include "core/run/run.h"
#include "log/sign_off.h"

namespace hobble {

struct ToSign {
    SignedState state;
    QVector<InTheWay> inTheWay; // worst first; where there is anything, nothing can be signed
};

/// Faults of the run at or over the limit stand in the way unless the log says that they are accepted,
/// intended or not the character's; so do open defects, wherever they were seen.
Result<ToSign> stateToSign(const ProductionLog& log, const Subject& subject, const RunResult& run,
                           const QString& character, const QString& use, int limit);

/// A4, one page: who signed what for what use, on what grounds, what was accepted, with pictures of the worst
/// of it.
Result<Done> writeSignOffPdf(const ProductionLog& log, const SignOff& signOff, const Subject& subject,
                             const RunResult& run, const QString& path);

} // namespace hobble
