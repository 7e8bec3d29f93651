// The plans of a character in the log, version by version.
#include "log/log_words.h"
#include "log/production_log.h"
#include "log/query.h"

#include <QSqlError>

namespace hobble {

namespace {

PlanVersion versionFrom(const QSqlQuery& q) {
    return {q.value(0).toLongLong(), q.value(1).toInt(),  timeOf(q.value(2)),      q.value(3).toString(),
            q.value(4).toString(),   q.value(5).toBool(), q.value(6).toByteArray()};
}

const QString kColumns = QStringLiteral("SELECT id, version, at, author, note, settled, plan FROM plan"
                                        " WHERE character = ? ORDER BY version DESC");

} // namespace

Result<QVector<PlanVersion>> ProductionLog::plans(const QString& character) const {
    QVector<PlanVersion> out;
    QSqlQuery q(database());
    if (!run(q, kColumns, {character}))
        return failure(tr("read the plans"), q.lastError().text());
    while (q.next())
        out.push_back(versionFrom(q));
    return out;
}

Result<PlanVersion> ProductionLog::keepPlan(const QString& character, const QByteArray& plan,
                                            const QString& author, const QString& note, bool settle,
                                            qint64 basedOn) {
    auto transaction = begin();
    if (!transaction)
        return Error{transaction.error()};
    QSqlQuery q(database());
    if (!run(q, kColumns + QStringLiteral(" LIMIT 1"), {character}))
        return failure(tr("read the plans"), q.lastError().text());
    PlanVersion newest;
    if (q.next())
        newest = versionFrom(q);
    q.finish();
    if (newest.id != basedOn)
        return Error{tr("The plan was changed by %1 meanwhile (version %2). Look at it on the Plan page, "
                        "under Versions; your change is not kept in the log yet.")
                         .arg(newest.author)
                         .arg(newest.version)
                         .toStdString()};
    const bool on = newest.id && !newest.settled && newest.author == author;
    const QString json = QString::fromUtf8(plan), words = text(note);
    const bool done =
        on ? run(q,
                 QStringLiteral("UPDATE plan SET at = ?, note = CASE WHEN ? = '' THEN note ELSE ? END,"
                                " settled = ?, plan = ? WHERE id = ?"),
                 {nowText(), words, words, settle ? 1 : 0, json, newest.id})
           : run(q,
                 QStringLiteral("INSERT INTO plan (character, version, at, author, note, settled, plan)"
                                " VALUES (?, ?, ?, ?, ?, ?, ?)"),
                 {character, newest.version + 1, nowText(), text(author), words, settle ? 1 : 0, json});
    if (!done || !run(q, kColumns + QStringLiteral(" LIMIT 1"), {character}) || !q.next())
        return failure(tr("keep the plan"), q.lastError().text());
    const PlanVersion out = versionFrom(q);
    q.finish();
    if (!transaction->commit())
        return failure(tr("keep the plan"), transaction->why());
    return out;
}

} // namespace hobble
