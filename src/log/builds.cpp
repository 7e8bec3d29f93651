// The builds of a character in the log: what they are recognised by, where their files are, how fit they were
// to be tested, what was noted of them.
#include "log/log_words.h"
#include "log/production_log.h"
#include "log/query.h"

#include <QSqlError>

namespace hobble {

Result<Build> ProductionLog::build(const QString& character, const QString& hash, const QString& path,
                                   const QString& formerHash) {
    QSqlDatabase db = database();
    QSqlQuery q(db);
    auto find = [&](const QString& by) -> bool {
        q.finish();
        return run(q, QStringLiteral("SELECT id, character, hash, path, number FROM build WHERE hash = ?"),
                   {by}) &&
               q.next();
    };
    auto found = [&] {
        return Build{q.value(0).toLongLong(), q.value(1).toString(), q.value(2).toString(),
                     q.value(3).toString(), q.value(4).toInt()};
    };
    bool there = find(hash);
    if (!there && !formerHash.isEmpty() && find(formerHash)) { // entered when builds went by another hash
        const Build former = found();
        if (readOnly_)
            return former;
        q.finish();
        auto transaction = begin();
        if (!transaction)
            return Error{transaction.error()};
        if (!run(q, QStringLiteral("UPDATE build SET hash = ? WHERE id = ?"), {hash, former.id}))
            return failure(tr("name the build anew"), q.lastError().text());
        if (!transaction->commit())
            return failure(tr("name the build anew"), transaction->why());
        there = find(hash);
    }
    if (there) {
        Build known = found();
        q.finish();
        if (known.path == path || path.isEmpty() || readOnly_)
            return known;
        // the same content at another place: it was moved, or found again
        if (addBuildEvent(known.id, QStringLiteral("path"), path, {}))
            known.path = path;
        return known; // known all the same where another program is just writing
    }
    q.finish();
    auto transaction = begin();
    if (!transaction)
        return Error{transaction.error()};
    if (!run(q,
             QStringLiteral(
                 "INSERT INTO build (character, hash, path, number, seen_at) VALUES (?, ?, ?,"
                 " (SELECT COUNT(*) + 1 FROM build WHERE character = ?), ?) ON CONFLICT (hash) DO NOTHING"),
             {text(character), text(hash), text(path), text(character), nowText()}) ||
        !find(hash))
        return failure(tr("enter the build"), q.lastError().text());
    const Build out = found();
    q.finish();
    if (!transaction->commit())
        return failure(tr("enter the build"), transaction->why());
    return out;
}

Result<Done> ProductionLog::addBuildEvent(qint64 buildId, const QString& field, const QString& value,
                                          const QString& author) {
    auto transaction = begin();
    if (!transaction)
        return Error{transaction.error()};
    QSqlQuery q(database());
    bool done = run(q,
                    QStringLiteral("INSERT INTO build_event (build_id, at, author, field, value)"
                                   " VALUES (?, ?, ?, ?, ?)"),
                    {buildId, nowText(), author.isNull() ? QStringLiteral("") : author, field,
                     value.isNull() ? QStringLiteral("") : value});
    if (done && field == QLatin1String("path"))
        done = run(q, QStringLiteral("UPDATE build SET path = ? WHERE id = ?"), {value, buildId});
    if (!done)
        return failure(tr("write of the build"), q.lastError().text());
    q.finish();
    if (!transaction->commit())
        return failure(tr("write of the build"), transaction->why());
    return Done{};
}

Result<Done> ProductionLog::noteBuild(qint64 buildId, const QString& note, const QString& author) {
    return addBuildEvent(buildId, QStringLiteral("note"), note, author);
}

Result<std::optional<Reference>> ProductionLog::reference() const {
    QSqlQuery q(database());
    if (!run(q,
             QStringLiteral("SELECT b.id, b.character, b.hash, b.path, b.number, e.author, e.at, e.value"
                            " FROM build_event e JOIN build b ON b.id = e.build_id"
                            " WHERE e.field = 'reference' ORDER BY e.id DESC LIMIT 1"),
             {}))
        return failure(tr("read the reference"), q.lastError().text());
    if (!q.next() || q.value(7).toString().isEmpty())
        return std::optional<Reference>();
    return std::optional(Reference{{q.value(0).toLongLong(), q.value(1).toString(), q.value(2).toString(),
                                    q.value(3).toString(), q.value(4).toInt()},
                                   q.value(5).toString(),
                                   timeOf(q.value(6))});
}

Result<Done> ProductionLog::setReference(qint64 buildId, bool is, const QString& author) {
    return addBuildEvent(buildId, QStringLiteral("reference"),
                         is ? QStringLiteral("taken") : QStringLiteral(""), author);
}

Result<Done> ProductionLog::addInspection(qint64 buildId, int score, int failing,
                                          const QByteArray& findings) {
    if (readOnly_)
        return failure(tr("write"), {});
    QSqlQuery q(database());
    if (run(q,
            QStringLiteral(
                "SELECT score, findings FROM inspection WHERE build_id = ? ORDER BY id DESC LIMIT 1"),
            {buildId}) &&
        q.next() && q.value(0).toInt() == score && q.value(1).toByteArray() == findings)
        return Done{}; // nothing new is known of it
    q.finish();
    return inTransaction(QStringLiteral("enter what Intake found"), [&]() -> Result<Done> {
        QSqlQuery insert(database());
        if (!run(insert,
                 QStringLiteral("INSERT INTO inspection (build_id, at, score, failing, findings)"
                                " VALUES (?, ?, ?, ?, ?)"),
                 {buildId, nowText(), score, failing, QString::fromUtf8(findings)}))
            return failure(tr("enter what Intake found"), insert.lastError().text());
        return Done{};
    });
}

Result<QVector<BuildState>> ProductionLog::builds(const QString& character) const {
    QSqlQuery q(database());
    if (!run(q,
             QStringLiteral(
                 "SELECT b.id, b.character, b.hash, b.path, b.number, b.seen_at,"
                 " (SELECT COUNT(*) FROM defect d JOIN defect_now s ON s.defect_id = d.id"
                 "  WHERE d.build_id = b.id AND s.state <> 'withdrawn'),"
                 " (SELECT score FROM inspection i WHERE i.build_id = b.id ORDER BY id DESC LIMIT 1),"
                 " (SELECT failing FROM inspection i WHERE i.build_id = b.id ORDER BY id DESC LIMIT 1),"
                 " (SELECT value FROM build_event e WHERE e.build_id = b.id AND e.field = 'note'"
                 "  ORDER BY id DESC LIMIT 1)"
                 " FROM build b WHERE ? = '' OR b.character = ? ORDER BY b.character, b.number"),
             {text(character), text(character)}))
        return failure(tr("read the builds"), q.lastError().text());
    QVector<BuildState> out;
    while (q.next()) {
        BuildState b;
        b.build = {q.value(0).toLongLong(), q.value(1).toString(), q.value(2).toString(),
                   q.value(3).toString(), q.value(4).toInt()};
        b.seenAt = timeOf(q.value(5));
        b.defects = q.value(6).toInt();
        if (!q.value(7).isNull()) {
            b.score = q.value(7).toInt();
            b.failing = q.value(8).toInt();
        }
        b.note = q.value(9).toString();
        out << b;
    }
    return out;
}

} // namespace hobble
