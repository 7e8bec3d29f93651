// The runs the log keeps, so that a later build can be laid beside an earlier one.
#include "log/log_words.h"
#include "log/production_log.h"
#include "log/query.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QSqlError>

namespace hobble {

namespace {

const QString kKeptRun =
    QStringLiteral("SELECT b.id, b.character, b.hash, b.path, b.number, r.at, r.curves FROM run r"
                   " JOIN build b ON b.id = r.build_id ");

KeptRun keptFrom(const QSqlQuery& q) {
    KeptRun out;
    out.build = {q.value(0).toLongLong(), q.value(1).toString(), q.value(2).toString(), q.value(3).toString(),
                 q.value(4).toInt()};
    out.at = timeOf(q.value(5));
    out.curves = qUncompress(q.value(6).toByteArray());
    return out;
}

// Under which a "run" was told of its build; empty for none.
QString keyOf(const QString& figures) {
    return QJsonDocument::fromJson(figures.toUtf8()).object().value(QStringLiteral("key")).toString();
}

} // namespace

Result<qint64> ProductionLog::addRun(const RunSummary& r) {
    qint64 id = 0;
    const auto done = inTransaction(QStringLiteral("enter the run"), [&]() -> Result<Done> {
        QSqlQuery q(database());
        if (!r.key.isEmpty()) { // writers wait for each other, so nobody enters it between the two
            if (!run(q, QStringLiteral("SELECT value FROM build_event WHERE build_id = ? AND field = 'run'"),
                     {r.buildId}))
                return failure(tr("enter the run"), q.lastError().text());
            while (q.next())
                if (keyOf(q.value(0).toString()) == r.key)
                    return Done{};
            q.finish();
        }
        if (!run(q,
                 QStringLiteral("INSERT INTO run (build_id, plan, method, at, poses, findings, curves)"
                                " VALUES (?, ?, ?, ?, ?, ?, ?) RETURNING id"),
                 {r.buildId, text(r.plan), text(r.method), nowText(), r.poses, QString::fromUtf8(r.findings),
                  r.curves.isEmpty() ? QVariant(QMetaType(QMetaType::QByteArray)) : qCompress(r.curves)}) ||
            !(id = returnedId(q)))
            return failure(tr("enter the run"), q.lastError().text());
        if (r.coverage < 0 && r.key.isEmpty())
            return Done{};
        // beside it what a whole show is told by (log/show_state.h), so that nobody has to read all findings
        // for it
        QJsonArray faults;
        for (std::size_t s = 1; s <= 4; ++s)
            faults.append(r.faults[s]);
        QJsonObject figures{{QStringLiteral("coverage"), r.coverage}, {QStringLiteral("faults"), faults}};
        if (!r.key.isEmpty())
            figures.insert(QStringLiteral("key"), r.key);
        if (!run(q,
                 QStringLiteral("INSERT INTO build_event (build_id, at, author, field, value)"
                                " VALUES (?, ?, '', 'run', ?)"),
                 {r.buildId, nowText(),
                  QString::fromUtf8(QJsonDocument(figures).toJson(QJsonDocument::Compact))}))
            return failure(tr("enter the run"), q.lastError().text());
        return Done{};
    });
    if (!done)
        return Error{done.error()};
    return id;
}

Result<int> ProductionLog::runCount(qint64 buildId) const {
    QSqlQuery q(database());
    if (!run(q, QStringLiteral("SELECT COUNT(*) FROM run WHERE build_id = ?"), {buildId}) || !q.next())
        return failure(tr("count the runs"), q.lastError().text());
    return q.value(0).toInt();
}

Result<std::optional<KeptRun>> ProductionLog::runBefore(qint64 buildId) const {
    QSqlQuery q(database());
    if (!run(q,
             kKeptRun + QStringLiteral("JOIN build now ON now.id = ?"
                                       " WHERE b.character = now.character AND b.number < now.number"
                                       " AND r.curves IS NOT NULL ORDER BY b.number DESC, r.id DESC LIMIT 1"),
             {buildId}))
        return failure(tr("read the earlier run"), q.lastError().text());
    if (!q.next())
        return std::optional<KeptRun>();
    return std::optional(keptFrom(q));
}

Result<std::optional<KeptRun>> ProductionLog::newestRun(qint64 buildId) const {
    QSqlQuery q(database());
    if (!run(q,
             kKeptRun + QStringLiteral("WHERE b.id = ? AND r.curves IS NOT NULL ORDER BY r.id DESC LIMIT 1"),
             {buildId}))
        return failure(tr("read the run"), q.lastError().text());
    if (!q.next())
        return std::optional<KeptRun>();
    return std::optional(keptFrom(q));
}

Result<QVector<KeptRun>> ProductionLog::newestRuns(const QString& character) const {
    QSqlQuery q(database());
    if (!run(q,
             kKeptRun +
                 QStringLiteral("WHERE b.character = ? AND r.id = (SELECT MAX(id) FROM run n"
                                " WHERE n.build_id = b.id AND n.curves IS NOT NULL) ORDER BY b.number"),
             {character}))
        return failure(tr("read the runs"), q.lastError().text());
    QVector<KeptRun> out;
    while (q.next())
        out.push_back(keptFrom(q));
    return out;
}

Result<int> ProductionLog::thinRuns(int newestBuilds) {
    const QString doing = QStringLiteral("thin the runs");
    int thinned = 0;
    const auto done = inTransaction(doing, [&]() -> Result<Done> {
        QSqlQuery q(database());
        if (!run(q,
                 QStringLiteral("UPDATE run SET findings = '[]', curves = NULL"
                                " WHERE (curves IS NOT NULL OR findings <> '[]') AND build_id IN"
                                " (SELECT b.id FROM build b WHERE b.number <="
                                "  (SELECT MAX(n.number) FROM build n WHERE n.character = b.character) - ?"
                                "  AND NOT EXISTS (SELECT 1 FROM build_event e WHERE e.build_id = b.id"
                                "  AND e.field IN ('reference', 'sign-off')))"),
                 {newestBuilds}))
            return failure(doing, q.lastError().text());
        thinned = q.numRowsAffected();
        return Done{};
    });
    if (!done)
        return Error{done.error()};
    if (thinned > 0) {
        QSqlQuery q(database());
        (void)q.exec(address_.postgres ? QStringLiteral("VACUUM FULL run")
                                       : QStringLiteral("VACUUM")); // room, no more
    }
    return thinned;
}

} // namespace hobble
