#pragma once
// The team's defects in one SQLite file. What was seen when a defect was logged never changes; every change
// after is an event row, and the current state is a view of that history. A change carries the version it was
// based on; a clash is reported, never overwritten. Use from one thread.
#include "core/result.h"

#include <QByteArray>
#include <QDateTime>
#include <QString>
#include <QVector>
#include <memory>
#include <optional>

namespace hobble {

struct Person {
    qint64 id = 0;
    QString name;
    bool active = true;
};

struct Build {
    qint64 id = 0;
    QString character, hash, path;
    int number = 0; // of this character, from 1, in the order they were first seen
};

/// A build with what is known of it now.
struct BuildState {
    Build build;
    QDateTime seenAt;
    int score = -1, failing = 0; // of the newest inspection by Intake; −1: none was kept
    int defects = 0;             // logged in it and not withdrawn
    QString note;
};

/// What was seen: fixed once logged.
struct DefectFacts {
    qint64 buildId = 0;
    QString joint, side, role, part, kind, motion, motionName, limb;
    double onset = 0, degrees = 0, value = 0, limit = 0;
    QString what, cause;
    QByteArray pose, camera, marks; // JSON
    QByteArray picture;             // PNG, may be empty
};

struct Defect {
    qint64 id = 0;
    DefectFacts facts;
    Build build;
    QString status, assignee, due; // status: one of defectStatuses()
    int severity = 0;
    qint64 version = 0; // id of its newest event
    QDateTime loggedAt, changedAt;
};

struct DefectEvent {
    qint64 id = 0;
    QDateTime at;
    QString author, field, value; // field: "status", "severity", "assignee", "due", "comment", "same fault"
};

struct RunSummary {
    qint64 buildId = 0;
    QString plan, method;
    int poses = 0;
    QByteArray findings; // JSON, as in the run's own "findings"
    QByteArray curves;   // JSON: io/run_curves.h; kept compressed
};

/// A run of the past, as it was kept.
struct KeptRun {
    Build build;
    QDateTime at;
    QByteArray curves; // JSON
};

/// open, in work, fixed, accepted, dismissed, withdrawn
const QStringList& defectStatuses();

/// A plan of a character as it once was.
struct PlanVersion {
    qint64 id = 0;
    int version = 0; // 1, 2, … for each character
    QDateTime at;    // when it was last written
    QString author, note;
    bool settled = false; // run, or kept on purpose: no longer written on
    QByteArray plan;      // JSON: io/plan_json.h
};

class ProductionLog {
public:
    /// Opens or creates. Says plainly when the file is damaged, locked, no log, or from a newer Hobble; a
    /// file without write permission opens read-only. `patience` is how long another writer is waited for.
    static Result<std::unique_ptr<ProductionLog>> open(const QString& path, int patienceMs = 2000);
    ~ProductionLog();
    ProductionLog(const ProductionLog&) = delete;
    ProductionLog& operator=(const ProductionLog&) = delete;

    QString path() const { return path_; }
    bool readOnly() const { return readOnly_; }

    Result<QVector<Person>> people() const;
    Result<qint64> addPerson(const QString& name);
    Result<Done> renamePerson(qint64 id, const QString& name);
    Result<Done> setPersonActive(qint64 id, bool active);

    /// The build of that content, entered when it is new. A content known at another place is there now.
    Result<Build> build(const QString& character, const QString& hash, const QString& path);
    /// In the order they were first seen.
    Result<QVector<BuildState>> builds(const QString& character) const;
    Result<Done> noteBuild(qint64 buildId, const QString& note, const QString& author);
    /// What Intake found in a build: JSON as the "checks" of an inspection, without their vertices. Kept when
    /// it differs from what is known.
    Result<Done> addInspection(qint64 buildId, int score, int failing, const QByteArray& findings);
    Result<qint64> addRun(const RunSummary& run);
    Result<int> runCount(qint64 buildId) const;
    /// The newest run of the nearest earlier build of the same character that kept its curves; nothing when
    /// there is none.
    Result<std::optional<KeptRun>> runBefore(qint64 buildId) const;

    /// Newest first.
    Result<QVector<PlanVersion>> plans(const QString& character) const;
    /// Writes on the newest version while that is the author's own and not settled, else makes the next.
    /// Fails when `basedOn`, the newest version the author has seen (0: none), is no longer the newest.
    Result<PlanVersion> keepPlan(const QString& character, const QByteArray& plan, const QString& author,
                                 const QString& note, bool settle, qint64 basedOn);

    /// Returns the new defect's id. It starts open, with the severity given, assigned to nobody.
    Result<qint64> addDefect(const DefectFacts& facts, int severity, const QString& author);
    Result<QVector<Defect>> defects(bool withPictures = false) const;
    Result<Defect> defect(qint64 id) const;
    Result<QVector<DefectEvent>> history(qint64 defectId) const;
    /// Findings that were merged with a defect: JSON as in DefectFacts::marks with "joint" and "kind". What
    /// was taken apart again is left out.
    Result<QVector<std::pair<qint64, QByteArray>>> mergedFindings() const;

    /// Returns the new version. Fails with a message naming who changed what when `basedOn` is no longer the
    /// newest.
    Result<qint64> change(qint64 defectId, const QString& field, const QString& value, qint64 basedOn,
                          const QString& author);

private:
    ProductionLog() = default;
    Result<Done> prepare();
    Result<Done> begin();
    Result<Done> addBuildEvent(qint64 buildId, const QString& field, const QString& value,
                               const QString& author);
    Error failure(const QString& doing, const QString& why) const;
    QString path_, connection_;
    bool readOnly_ = false;
    int version_ = 0; // of the file as it is now
};

} // namespace hobble
