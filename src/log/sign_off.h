#pragma once
// Builds that were signed off: by whom, for what use, on what grounds; and what stands in the way of it. Kept
// as events of the build, which is known by its content: a file changed by one byte is another build, and not
// signed.
#include "log/production_log.h"

namespace hobble {

/// What is signed, exactly.
struct SignedState {
    QString hash;              // of the file's content: SHA-256
    QString use;               // "to animation"
    QString plan;              // name and version
    QByteArray limits;         // JSON: io/limits_json.h
    int faults = 0, poses = 0; // the run found
    int limit = 3;             // severity from which on something stands in the way
    struct Exception {
        qint64 defect = 0;
        QString what, reason;
        int severity = 0;
    };
    QVector<Exception> accepted; // at or over the limit, with the reason they were accepted for
};

struct SignOff {
    qint64 event = 0;
    Build build;
    SignedState state;
    QString author;
    QDateTime at;
    // empty while it stands
    QString takenBackBy, reason;
    QDateTime takenBackAt;
    bool stands() const { return takenBackBy.isEmpty(); }
};

/// An open defect at or over the limit.
struct InTheWay {
    qint64 defect = 0; // 0: a fault of the run that nobody has logged
    int severity = 0;
    QString what;
};

/// Of a character's defects: what is open at that severity or worse.
QVector<InTheWay> defectsInTheWay(const QVector<Defect>& defects, const QString& character, int limit);
/// And what was accepted at that severity, with the reasons given for it.
Result<QVector<SignedState::Exception>> acceptedDefects(const ProductionLog& log, const QString& character,
                                                        int limit);

/// Of a character's builds, the newest first; also those that were taken back.
Result<QVector<SignOff>> signOffs(const ProductionLog& log, const QString& character);
/// The newest that stands, of that build alone.
Result<std::optional<SignOff>> standingSignOff(const ProductionLog& log, qint64 build);

/// Fails where a defect at or over the limit is open, where the build's content is another, and where
/// somebody has signed it for the same use already: all of it asked within the transaction that writes.
Result<SignOff> signOff(ProductionLog& log, const Build& build, const SignedState& state,
                        const QString& author);
/// Fails without a reason, and where it does not stand.
Result<Done> takeBackSignOff(ProductionLog& log, qint64 event, const QString& reason, const QString& author);

QByteArray signedStateToJson(const SignedState& state);
SignedState signedStateFromJson(const QByteArray& json);

} // namespace hobble
