#pragma once
// The team's defects, in one SQLite file or a PostgreSQL database. What was seen when a defect was logged
// never changes; every change after is an event row, and the current state follows from that history. A
// change carries the version it was based on; a clash is reported, never overwritten. Writers wait for each
// other, so events are numbered in the order they become visible. Use from one thread.
#include "core/result.h"
#include "log/defect_state.h"
#include "log/log_address.h"

#include <QByteArray>
#include <QDateTime>
#include <QSqlDatabase>
#include <QString>
#include <QVector>

#include <array>
#include <functional>
#include <memory>
#include <optional>

namespace hobble {

class Transaction;

struct Person {
    qint64 id = 0;
    QString name;
    bool active = true; // false: has left; what they did stays
    QString mail;       // may be empty
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
    QString at;   // where in its motion, in words: "120°"; empty for the degrees as they are
    QString unit; // that value and limit are said in: "1720|0| mm": factor, decimals, suffix
    QByteArray pose, camera, marks; // JSON; not read for lists
    QByteArray picture;             // PNG, may be empty; not read for lists
};

/// How often the show's animation goes past where a defect begins: log/defect_use.h.
struct DefectUse {
    qint64 frames = 0, ofFrames = 0, clips = 0, ofClips = 0;
    QString firstClip; // empty where none goes there
    qint64 firstFrame = 0;
    bool operator==(const DefectUse&) const = default;
};

struct Defect {
    qint64 id = 0;
    DefectFacts facts;
    Build build;
    DefectState state = DefectState::Logged;
    QString assignee, due;
    int severity = 0;
    qint64 duplicateOf = 0; // of a duplicate: the one that is kept
    qint64 version = 0;     // id of its newest event
    QDateTime loggedAt, changedAt;
    std::optional<DefectUse> use; // nothing while nobody has counted
};

struct DefectEvent {
    qint64 id = 0;
    QDateTime at;
    /// field: "state", "severity", "assignee", "due", "comment", "same fault", "not the same fault",
    /// "duplicate of", "split from", "verdict" (of a check on a new build; the reason says it in numbers),
    /// "proposal" (log/proposal.h), "use" (log/defect_use.h)
    QString author, field, value, reason;
    int build = 0; // number of the build it was said of; 0 where none was open
};

/// One wish to change a defect.
struct DefectChange {
    qint64 defect = 0;
    QString field, value;
    qint64 basedOn = 0; // version of the defect that was seen
    QString reason;
    bool takesBack = false; // undo: goes back to any state
};

/// A change that was not written, because somebody else had changed the same thing.
struct Clash {
    DefectChange change;
    DefectEvent theirs;
    QString words() const; // names who did what
};

struct Written {
    QVector<qint64> versions; // per change, of its event; 0 where it clashed
    QVector<Clash> clashes;
};

struct DefectQuery {
    QString character = {};  // empty: all
    qint64 changedAfter = 0; // only what has events after that one
    qint64 id = 0;           // only that one
    bool marks = false;      // with facts.marks
    bool everything = false; // with pose, camera, marks and picture
};

struct RunSummary {
    qint64 buildId = 0;
    QString plan, method;
    int poses = 0;
    QByteArray findings;         // JSON, as in the run's own "findings"
    QByteArray curves;           // JSON: io/run_curves.h; kept compressed
    double coverage = -1;        // share of the skin that the plan moves; −1: not said
    std::array<int, 5> faults{}; // by severity, 1 … 4
    QString key = {};            // a run of that key is entered once; empty: entered whenever it is made
};

/// A run of the past, as it was kept.
struct KeptRun {
    Build build;
    QDateTime at;
    QByteArray curves; // JSON
};

/// What good looks like in this show: one build, of whichever character.
struct Reference {
    Build build;
    QString author;
    QDateTime at;
};

/// What of the log is shown, under a name: for everybody who works with it.
struct TeamFilter {
    QString name, author;
    QByteArray filter; // JSON: log/defect_list.h, DefectFilter, with "grouping"
    bool operator==(const TeamFilter&) const = default;
};

/// A plan of a character as it once was.
struct PlanVersion {
    qint64 id = 0;
    int version = 0; // 1, 2, … for each character
    QDateTime at;    // when it was last written
    QString author, note;
    bool settled = false; // run, or kept on purpose: no longer written on
    QByteArray plan;      // JSON: io/plan_json.h
};

/// How long another writer is waited for: where a person waits, and where a program does, which may stand
/// in a queue with a hundred others.
constexpr int kPatienceMs = 2000, kUnattendedPatienceMs = 60000;

class ProductionLog {
public:
    /// Opens or creates: a path, or an address as in log_address.h. Says plainly when the file is damaged,
    /// locked, no log, or from a newer Hobble, and when the server cannot be reached; a file without write
    /// permission opens read-only. `patienceMs` is how long another writer is waited for.
    static Result<std::unique_ptr<ProductionLog>> open(const QString& place, int patienceMs = kPatienceMs);
    ~ProductionLog();
    ProductionLog(const ProductionLog&) = delete;
    ProductionLog& operator=(const ProductionLog&) = delete;

    const LogAddress& address() const { return address_; }
    QString place() const { return address_.words(); }
    bool readOnly() const { return readOnly_; }
    bool isEmpty() const; // nobody has written anything yet
    /// Whether the server, or the file, is no longer there. Asks it.
    bool lost() const;
    /// Changes by others since it was last asked; SQLite's own counter, or notes from the server.
    bool changedByOthers();
    /// Of the connection to a server, so that one that hangs can be ended from another thread; −1 for a file.
    int socket() const;
    /// What is between here and a server.
    struct Wire {
        bool leavesTheMachine = false;
        QString encryption; // "TLSv1.3"; empty: none
    };
    Wire wire() const;
    QSqlDatabase database() const { return QSqlDatabase::database(connection_, false); }

    Result<QVector<Person>> people() const;
    Result<qint64> addPerson(const QString& name, const QString& mail = {});
    /// Their defects go with the name.
    Result<Done> renamePerson(qint64 id, const QString& name, const QString& author = {});
    Result<Done> setPersonMail(qint64 id, const QString& mail);
    Result<Done> setPersonActive(qint64 id, bool active);

    /// By name.
    Result<QVector<TeamFilter>> teamFilters() const;
    /// Under a name that was taken it takes the other's place; an empty filter drops it.
    Result<Done> keepTeamFilter(const QString& name, const QByteArray& filter, const QString& author);

    /// The build of that content, entered when it is new. A content known at another place is there now.
    Result<Build> build(const QString& character, const QString& hash, const QString& path,
                        const QString& formerHash = {});
    /// In the order they were first seen; of all characters where none is named.
    Result<QVector<BuildState>> builds(const QString& character) const;
    Result<Done> noteBuild(qint64 buildId, const QString& note, const QString& author);
    /// The newest one taken; nothing when there is none, or it was taken back.
    Result<std::optional<Reference>> reference() const;
    Result<Done> setReference(qint64 buildId, bool is, const QString& author);
    /// What Intake found in a build: JSON as the "checks" of an inspection, without their vertices. Kept when
    /// it differs from what is known.
    Result<Done> addInspection(qint64 buildId, int score, int failing, const QByteArray& findings);
    /// Its id; 0 where a run of that build and key is there already.
    Result<qint64> addRun(const RunSummary& run);
    /// Of each character's builds but the newest so many, those ever signed off or taken for good, the
    /// findings and curves of runs are taken out; what the show is told by stays. They can be measured again
    /// from the builds. How many runs were thinned, and the room is given back.
    Result<int> thinRuns(int newestBuilds);
    Result<int> runCount(qint64 buildId) const;
    /// The newest run of the nearest earlier build of the same character that kept its curves; nothing when
    /// there is none.
    Result<std::optional<KeptRun>> runBefore(qint64 buildId) const;
    /// The newest run of that build that kept its curves.
    Result<std::optional<KeptRun>> newestRun(qint64 buildId) const;
    /// The newest run of each build of the character that kept its curves, in the order of the builds.
    Result<QVector<KeptRun>> newestRuns(const QString& character) const;

    /// Newest first.
    Result<QVector<PlanVersion>> plans(const QString& character) const;
    /// Writes on the newest version while that is the author's own and not settled, else makes the next.
    /// Fails when `basedOn`, the newest version the author has seen (0: none), is no longer the newest.
    Result<PlanVersion> keepPlan(const QString& character, const QByteArray& plan, const QString& author,
                                 const QString& note, bool settle, qint64 basedOn);

    /// Returns the new defect's id. It starts logged, with the severity given, assigned to nobody.
    Result<qint64> addDefect(const DefectFacts& facts, int severity, const QString& author);
    /// One that was taken out of another: its history says of which.
    Result<qint64> splitDefect(qint64 from, const DefectFacts& facts, int severity, const QString& author);
    Result<QVector<Defect>> defects(const DefectQuery& query = {}) const;
    Result<Defect> defect(qint64 id) const; // everything of it
    Result<qint64> newestEvent() const;     // 0 for none
    Result<QVector<DefectEvent>> history(qint64 defectId) const;
    /// What was said of defects, and of which, in its order; `after`: since that event.
    Result<QVector<std::pair<qint64, QString>>> comments(qint64 after = 0) const;
    /// Defects whose comments speak of that person as “@Name”.
    Result<QVector<qint64>> mentionsOf(const QString& person) const;
    /// Findings that were merged with a defect: JSON as in DefectFacts::marks with "joint" and "kind". What
    /// was taken apart again is left out.
    Result<QVector<std::pair<qint64, QByteArray>>> mergedFindings() const;

    /// All in one transaction. A change clashes when somebody changed the same thing of the defect after what
    /// it was based on; the others are written all the same. What adds and overwrites nothing (a comment)
    /// never clashes. Giving a logged defect to somebody makes it assigned, and taking it away logged again.
    /// Fails, with nothing written, for a move that is not allowed or lacks its reason.
    Result<Written> change(const QVector<DefectChange>& changes, const QString& author, qint64 buildId = 0);
    /// One of them; a clash is an error. Returns the new version.
    Result<qint64> change(qint64 defectId, const QString& field, const QString& value, qint64 basedOn,
                          const QString& author, const QString& reason = {});

    /// A copy of all of it in one new SQLite file, from either kind of log.
    Result<Done> backUp(const QString& path) const;

    /// Runs `work` in one writing transaction; nothing is written when it fails.
    Result<Done> inTransaction(const QString& doing, const std::function<Result<Done>()>& work);
    Error failure(const QString& doing, const QString& why) const;

private:
    ProductionLog() = default;
    Result<Done> openFile(int patienceMs);
    Result<Done> openServer(int patienceMs);
    Result<Done> prepareFile(int patienceMs);
    Result<Done> prepareServer();
    Result<Done> migrate(QSqlDatabase db, int from);
    Result<Transaction> begin();
    Result<Done> addBuildEvent(qint64 buildId, const QString& field, const QString& value,
                               const QString& author);
    Result<qint64> enter(const DefectFacts& facts, int severity, const QString& author, qint64 splitFrom);
    LogAddress address_;
    QString connection_;
    QString shadow_; // a copy brought up to date, of a read-only log of an older Hobble
    bool readOnly_ = false;
    qint64 dataVersion_ = -1;
    bool notified_ = false;
};

} // namespace hobble
