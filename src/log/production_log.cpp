#include "log/production_log.h"

#include "log/query.h"
#include "log/schema.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>
#include <QStringList>
#include <QUuid>
#include <QVariant>

namespace hobble {

namespace {

const char* kDefectColumns =
    "SELECT d.id, d.build_id, d.joint, d.side, d.role, d.part, d.kind, d.motion, d.motion_name, d.limb, "
    "d.onset,"
    " d.degrees, d.value, d.limit_value, d.what, d.cause, d.pose, d.camera, d.marks, s.status, s.severity, "
    "s.assignee,"
    " s.due, s.version, s.logged_at, s.changed_at, b.character, b.hash, b.path, b.number";

Defect defectFrom(const QSqlQuery& q, bool withPicture) {
    Defect d;
    int c = 0;
    auto next = [&] { return q.value(c++); };
    d.id = next().toLongLong();
    d.facts.buildId = d.build.id = next().toLongLong();
    for (QString* text : {&d.facts.joint, &d.facts.side, &d.facts.role, &d.facts.part, &d.facts.kind,
                          &d.facts.motion, &d.facts.motionName, &d.facts.limb})
        *text = next().toString();
    for (double* number : {&d.facts.onset, &d.facts.degrees, &d.facts.value, &d.facts.limit})
        *number = next().toDouble();
    d.facts.what = next().toString();
    d.facts.cause = next().toString();
    for (QByteArray* json : {&d.facts.pose, &d.facts.camera, &d.facts.marks})
        *json = next().toByteArray();
    d.status = next().toString();
    d.severity = next().toInt();
    d.assignee = next().toString();
    d.due = next().toString();
    d.version = next().toLongLong();
    d.loggedAt = timeOf(next());
    d.changedAt = timeOf(next());
    d.build.character = next().toString();
    d.build.hash = next().toString();
    d.build.path = next().toString();
    d.build.number = next().toInt();
    if (withPicture)
        d.facts.picture = next().toByteArray();
    return d;
}

} // namespace

const QStringList& defectStatuses() {
    static const QStringList all{QStringLiteral("open"),      QStringLiteral("in work"),
                                 QStringLiteral("fixed"),     QStringLiteral("accepted"),
                                 QStringLiteral("dismissed"), QStringLiteral("withdrawn")};
    return all;
}

Error ProductionLog::failure(const QString& doing, const QString& why) const {
    QString reason = why;
    if (readOnly_ || why.contains(QLatin1String("readonly")))
        reason = QStringLiteral("the log is read-only");
    else if (why.contains(QLatin1String("locked")) || why.contains(QLatin1String("busy")))
        reason = QStringLiteral("another program is writing to it; try again in a moment");
    else if (why.contains(QLatin1String("malformed")) || why.contains(QLatin1String("not a database")))
        reason = QStringLiteral("the file is damaged; restore it from a backup, nothing was written");
    else if (why.contains(QLatin1String("full")))
        reason = QStringLiteral("the disk is full");
    return {QStringLiteral("Cannot %1 in the log %2: %3.").arg(doing, path_, reason).toStdString()};
}

Result<std::unique_ptr<ProductionLog>> ProductionLog::open(const QString& path, int patienceMs) {
    std::unique_ptr<ProductionLog> log(new ProductionLog);
    log->path_ = path;
    log->connection_ = QUuid::createUuid().toString();
    const QFileInfo file(path);
    if (file.isDir())
        return Error{QStringLiteral("Cannot open the log %1: it is a folder.").arg(path).toStdString()};
    if (!file.exists() && !QDir().mkpath(file.absolutePath()))
        return Error{
            QStringLiteral("Cannot open the log %1: its folder cannot be made.").arg(path).toStdString()};
    if (file.exists() && file.size() > 0) {
        QFile head(path);
        if (!head.open(QIODevice::ReadOnly))
            return Error{
                QStringLiteral("Cannot open the log %1: it may not be read.").arg(path).toStdString()};
        if (head.read(16) != QByteArray("SQLite format 3\0", 16))
            return Error{QStringLiteral("Cannot open the log %1: it is not a Hobble log, or it is damaged. "
                                        "Nothing was changed.")
                             .arg(path)
                             .toStdString()};
        // Permission bits are asked, not the system's leave: a protected log stays untouched even for root.
        const auto bits = QFile::permissions(path);
        log->readOnly_ = !(bits & (QFile::WriteOwner | QFile::WriteGroup | QFile::WriteOther));
    }
    QSqlDatabase db = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), log->connection_);
    db.setDatabaseName(path);
    QString options = QStringLiteral("QSQLITE_BUSY_TIMEOUT=%1").arg(patienceMs);
    if (log->readOnly_)
        options += QStringLiteral(";QSQLITE_OPEN_READONLY");
    db.setConnectOptions(options);
    if (!db.open())
        return log->failure(QStringLiteral("work"), db.lastError().text());
    if (auto ready = log->prepare(); !ready)
        return Error{ready.error()};
    return log;
}

ProductionLog::~ProductionLog() {
    if (connection_.isEmpty())
        return;
    {
        QSqlDatabase db = QSqlDatabase::database(connection_, false);
        db.close();
    }
    QSqlDatabase::removeDatabase(connection_);
}

Result<Done> ProductionLog::prepare() {
    QSqlDatabase db = QSqlDatabase::database(connection_, false);
    QSqlQuery q(db);
    const QString opening = QStringLiteral("work");
    auto fail = [&] { return failure(opening, q.lastError().text()); };
    if (!run(q, QStringLiteral("PRAGMA application_id")) || !q.next())
        return fail();
    const int application = q.value(0).toInt();
    if (!run(q, QStringLiteral("PRAGMA user_version")) || !q.next())
        return fail();
    const int version = q.value(0).toInt();
    if (!run(q, QStringLiteral("SELECT COUNT(*) FROM sqlite_master")) || !q.next())
        return fail();
    const bool fresh = q.value(0).toInt() == 0 && version == 0;
    if (!fresh && application != kLogApplicationId)
        return Error{QStringLiteral(
                         "Cannot open the log %1: it is a database of another program. Nothing was changed.")
                         .arg(path_)
                         .toStdString()};
    const int newest = static_cast<int>(logMigrations().size());
    if (version > newest)
        return Error{
            QStringLiteral("Cannot open the log %1: it was written by a newer Hobble (version %2, this one "
                           "knows %3). Nothing was changed; update Hobble.")
                .arg(path_)
                .arg(version)
                .arg(newest)
                .toStdString()};
    if (!fresh) {
        if (!run(q, QStringLiteral("PRAGMA integrity_check")) || !q.next())
            return fail();
        if (q.value(0).toString() != QLatin1String("ok"))
            return Error{QStringLiteral(
                             "Cannot open the log %1: the file is damaged (%2). Nothing was changed; restore "
                             "it from a backup.")
                             .arg(path_, q.value(0).toString())
                             .toStdString()};
    }
    q.finish();
    version_ = readOnly_ ? version : newest;
    if (readOnly_)
        return Done{};
    if (!run(q, QStringLiteral("PRAGMA journal_mode = WAL")) ||
        !run(q, QStringLiteral("PRAGMA foreign_keys = ON")) ||
        !run(q, QStringLiteral("PRAGMA synchronous = FULL")))
        return fail();
    q.finish();
    if (version == newest)
        return Done{};
    if (!fresh) {
        const QString backup = QStringLiteral("%1.before-v%2").arg(path_).arg(newest);
        if (!QFile::exists(backup) && !run(q, QStringLiteral("VACUUM INTO ?"), {backup}))
            return failure(QStringLiteral("make a backup before updating"), q.lastError().text());
    }
    if (!run(q, QStringLiteral("BEGIN IMMEDIATE")))
        return fail();
    Transaction transaction(db);
    // Another process may have got here first while we waited for the lock.
    if (!run(q, QStringLiteral("PRAGMA user_version")) || !q.next())
        return fail();
    const int from = q.value(0).toInt();
    q.finish();
    for (int v = from; v < newest; ++v)
        for (const QString& statement : logMigrations()[v])
            if (!q.exec(statement))
                return fail();
    if (!q.exec(QStringLiteral("PRAGMA user_version = %1").arg(newest)) ||
        !q.exec(QStringLiteral("PRAGMA application_id = %1").arg(kLogApplicationId)) || !transaction.commit())
        return fail();
    return Done{};
}

Result<Done> ProductionLog::begin() {
    if (readOnly_)
        return failure(QStringLiteral("write"), {});
    QSqlQuery q(QSqlDatabase::database(connection_, false));
    if (!q.exec(QStringLiteral("BEGIN IMMEDIATE")))
        return failure(QStringLiteral("write"), q.lastError().text());
    return Done{};
}

Result<QVector<Person>> ProductionLog::people() const {
    QSqlQuery q(QSqlDatabase::database(connection_, false));
    if (!run(q, QStringLiteral("SELECT id, name, active FROM person ORDER BY active DESC, name")))
        return failure(QStringLiteral("read the roster"), q.lastError().text());
    QVector<Person> out;
    while (q.next())
        out.push_back({q.value(0).toLongLong(), q.value(1).toString(), q.value(2).toBool()});
    return out;
}

Result<qint64> ProductionLog::addPerson(const QString& name) {
    const QString trimmed = name.simplified();
    if (trimmed.isEmpty())
        return Error{"A person needs a name."};
    if (readOnly_)
        return failure(QStringLiteral("write"), {});
    QSqlQuery q(QSqlDatabase::database(connection_, false));
    if (!run(q, QStringLiteral("INSERT INTO person (name) VALUES (?)"), {trimmed})) {
        if (q.lastError().text().contains(QLatin1String("UNIQUE")))
            return Error{QStringLiteral("%1 is on the roster already.").arg(trimmed).toStdString()};
        return failure(QStringLiteral("add a person"), q.lastError().text());
    }
    return q.lastInsertId().toLongLong();
}

Result<Done> ProductionLog::renamePerson(qint64 id, const QString& name) {
    const QString trimmed = name.simplified();
    if (trimmed.isEmpty())
        return Error{"A person needs a name."};
    QSqlQuery q(QSqlDatabase::database(connection_, false));
    if (!run(q, QStringLiteral("UPDATE person SET name = ? WHERE id = ?"), {trimmed, id})) {
        if (q.lastError().text().contains(QLatin1String("UNIQUE")))
            return Error{QStringLiteral("%1 is on the roster already.").arg(trimmed).toStdString()};
        return failure(QStringLiteral("rename a person"), q.lastError().text());
    }
    return Done{};
}

Result<Done> ProductionLog::setPersonActive(qint64 id, bool active) {
    QSqlQuery q(QSqlDatabase::database(connection_, false));
    if (!run(q, QStringLiteral("UPDATE person SET active = ? WHERE id = ?"), {active ? 1 : 0, id}))
        return failure(QStringLiteral("change the roster"), q.lastError().text());
    return Done{};
}

Result<qint64> ProductionLog::addRun(const RunSummary& r) {
    if (readOnly_)
        return failure(QStringLiteral("write"), {});
    QSqlQuery q(QSqlDatabase::database(connection_, false));
    if (!run(q,
             QStringLiteral("INSERT INTO run (build_id, plan, method, at, poses, findings, curves)"
                            " VALUES (?, ?, ?, ?, ?, ?, ?)"),
             {r.buildId, r.plan, r.method, nowText(), r.poses, QString::fromUtf8(r.findings),
              r.curves.isEmpty() ? QVariant(QMetaType(QMetaType::QByteArray)) : qCompress(r.curves)}))
        return failure(QStringLiteral("enter the run"), q.lastError().text());
    return q.lastInsertId().toLongLong();
}

Result<int> ProductionLog::runCount(qint64 buildId) const {
    QSqlQuery q(QSqlDatabase::database(connection_, false));
    if (!run(q, QStringLiteral("SELECT COUNT(*) FROM run WHERE build_id = ?"), {buildId}) || !q.next())
        return failure(QStringLiteral("count the runs"), q.lastError().text());
    return q.value(0).toInt();
}

Result<std::optional<KeptRun>> ProductionLog::runBefore(qint64 buildId) const {
    if (version_ < 2) // a log that may not be written was not brought up to date, and kept no curves
        return std::optional<KeptRun>();
    QSqlQuery q(QSqlDatabase::database(connection_, false));
    if (!run(q,
             QStringLiteral("SELECT b.id, b.character, b.hash, b.path, b.number, r.at, r.curves FROM run r"
                            " JOIN build b ON b.id = r.build_id JOIN build now ON now.id = ?"
                            " WHERE b.character = now.character AND b.number < now.number"
                            " AND r.curves IS NOT NULL ORDER BY b.number DESC, r.id DESC LIMIT 1"),
             {buildId}))
        return failure(QStringLiteral("read the earlier run"), q.lastError().text());
    if (!q.next())
        return std::optional<KeptRun>();
    KeptRun out;
    out.build = {q.value(0).toLongLong(), q.value(1).toString(), q.value(2).toString(), q.value(3).toString(),
                 q.value(4).toInt()};
    out.at = timeOf(q.value(5));
    out.curves = qUncompress(q.value(6).toByteArray());
    return std::optional(std::move(out));
}

Result<QVector<std::pair<qint64, QByteArray>>> ProductionLog::mergedFindings() const {
    QSqlQuery q(QSqlDatabase::database(connection_, false));
    if (!run(q,
             QStringLiteral("SELECT defect_id, field, value FROM event WHERE field IN ('same fault', 'not the"
                            " same fault') ORDER BY id")))
        return failure(QStringLiteral("read the merged findings"), q.lastError().text());
    QVector<std::pair<qint64, QByteArray>> out;
    while (q.next()) {
        const std::pair<qint64, QByteArray> one(q.value(0).toLongLong(), q.value(2).toByteArray());
        if (q.value(1).toString() == QLatin1String("same fault"))
            out.push_back(one);
        else
            out.removeOne(one);
    }
    return out;
}

Result<qint64> ProductionLog::addDefect(const DefectFacts& f, int severity, const QString& author) {
    QSqlDatabase db = QSqlDatabase::database(connection_, false);
    if (auto b = begin(); !b)
        return Error{b.error()};
    Transaction transaction(db);
    QSqlQuery q(db);
    const auto fail = [&] { return failure(QStringLiteral("log the defect"), q.lastError().text()); };
    if (!run(q,
             QStringLiteral("INSERT INTO defect (build_id, joint, side, role, part, kind, motion, "
                            "motion_name, limb, onset,"
                            " degrees, value, limit_value, what, cause, pose, camera, marks, picture)"
                            " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"),
             {f.buildId, f.joint, f.side, f.role, f.part, f.kind, f.motion, f.motionName, f.limb, f.onset,
              f.degrees, f.value, f.limit, f.what, f.cause.isNull() ? QStringLiteral("") : f.cause,
              QString::fromUtf8(f.pose), QString::fromUtf8(f.camera), QString::fromUtf8(f.marks), f.picture}))
        return fail();
    const qint64 id = q.lastInsertId().toLongLong();
    const QString at = nowText();
    const std::pair<QString, QString> first[] = {{QStringLiteral("status"), QStringLiteral("open")},
                                                 {QStringLiteral("severity"), QString::number(severity)},
                                                 {QStringLiteral("assignee"), QStringLiteral("")}};
    for (const auto& [field, value] : first)
        if (!run(q,
                 QStringLiteral("INSERT INTO event (defect_id, at, author, field, value, based_on)"
                                " VALUES (?, ?, ?, ?, ?, 0)"),
                 {id, at, author, field, value}))
            return fail();
    if (!transaction.commit())
        return fail();
    return id;
}

Result<QVector<Defect>> ProductionLog::defects(bool withPictures) const {
    QSqlQuery q(QSqlDatabase::database(connection_, false));
    const QString sql = QLatin1String(kDefectColumns) +
                        (withPictures ? QStringLiteral(", d.picture") : QString()) +
                        QStringLiteral(" FROM defect d JOIN defect_state s ON s.defect_id = d.id"
                                       " JOIN build b ON b.id = d.build_id ORDER BY d.id");
    if (!run(q, sql))
        return failure(QStringLiteral("read the defects"), q.lastError().text());
    QVector<Defect> out;
    while (q.next())
        out.push_back(defectFrom(q, withPictures));
    return out;
}

Result<Defect> ProductionLog::defect(qint64 id) const {
    QSqlQuery q(QSqlDatabase::database(connection_, false));
    if (!run(q,
             QLatin1String(kDefectColumns) +
                 QStringLiteral(", d.picture FROM defect d JOIN defect_state s ON s.defect_id = d.id"
                                " JOIN build b ON b.id = d.build_id WHERE d.id = ?"),
             {id}))
        return failure(QStringLiteral("read the defect"), q.lastError().text());
    if (!q.next())
        return failure(QStringLiteral("read the defect"), QStringLiteral("there is none of that number"));
    return defectFrom(q, true);
}

Result<QVector<DefectEvent>> ProductionLog::history(qint64 defectId) const {
    QSqlQuery q(QSqlDatabase::database(connection_, false));
    if (!run(q,
             QStringLiteral("SELECT id, at, author, field, value FROM event WHERE defect_id = ? ORDER BY id"),
             {defectId}))
        return failure(QStringLiteral("read the history"), q.lastError().text());
    QVector<DefectEvent> out;
    while (q.next())
        out.push_back({q.value(0).toLongLong(), timeOf(q.value(1)), q.value(2).toString(),
                       q.value(3).toString(), q.value(4).toString()});
    return out;
}

Result<qint64> ProductionLog::change(qint64 defectId, const QString& field, const QString& value,
                                     qint64 basedOn, const QString& author) {
    QSqlDatabase db = QSqlDatabase::database(connection_, false);
    if (auto b = begin(); !b)
        return Error{b.error()};
    Transaction transaction(db);
    QSqlQuery q(db);
    if (!run(q,
             QStringLiteral(
                 "SELECT id, author, field, value FROM event WHERE defect_id = ? ORDER BY id DESC LIMIT 1"),
             {defectId}))
        return failure(QStringLiteral("change the defect"), q.lastError().text());
    if (!q.next())
        return failure(QStringLiteral("change the defect"), QStringLiteral("there is none of that number"));
    // A comment overwrites nothing, so it never clashes.
    if (q.value(0).toLongLong() != basedOn && field != QLatin1String("comment"))
        return Error{
            QStringLiteral("Somebody changed this defect meanwhile: %1 set its %2 to “%3”. Look at it again; "
                           "your change was not written.")
                .arg(q.value(1).toString(), q.value(2).toString(), q.value(3).toString())
                .toStdString()};
    q.finish();
    if (!run(q,
             QStringLiteral("INSERT INTO event (defect_id, at, author, field, value, based_on)"
                            " VALUES (?, ?, ?, ?, ?, ?)"),
             {defectId, nowText(), author, field, value.isNull() ? QStringLiteral("") : value, basedOn}))
        return failure(QStringLiteral("change the defect"), q.lastError().text());
    const qint64 version = q.lastInsertId().toLongLong();
    if (!transaction.commit())
        return failure(QStringLiteral("change the defect"), QStringLiteral("the change was not taken"));
    return version;
}

} // namespace hobble
