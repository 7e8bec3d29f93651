#pragma once
// What a lead proposes for a defect: steps that were tried, and what they do to its numbers. Kept as the
// value of an event "proposal", so that it goes wherever the defect's history goes.
#include "log/production_log.h"

#include <QHash>

namespace hobble {

struct Proposal {
    QString sentence;  // "stretch 4.64 → 1.31 (limit 1.35), 94 % of the trouble goes"
    QStringList steps; // in words
    QString kind;      // the measure, by its word; empty where it is for none in particular
    double was = 0, is = 0, limit = 0;
    double gone = 0;  // share of the trouble
    int build = 0;    // number of the build it was tried on
    QByteArray trial; // JSON, docs/schema/trial.schema.json
    bool operator==(const Proposal&) const = default;
};

DefectChange proposalEvent(const Defect& defect, const Proposal& proposal);
/// An error for a value that is no proposal.
Result<Proposal> proposalFrom(const QString& value);

/// The newest proposal of each of these defects that has one.
Result<QHash<qint64, Proposal>> newestProposals(const ProductionLog& log, const QVector<qint64>& defects);

/// What an event's value says to a person: of a proposal its sentence and steps, of a use its
/// numbers, of anything else the value.
QString valueWords(const DefectEvent& event);

} // namespace hobble
