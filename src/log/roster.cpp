// Who defects can be given to.
#include "core/words/say.h"
#include "log/log_words.h"
#include "log/production_log.h"
#include "log/query.h"

#include <QSqlError>

namespace hobble {

namespace {
bool isTaken(const QSqlQuery& q) {
    return q.lastError().text().contains(QLatin1String("unique"), Qt::CaseInsensitive);
}
Error taken(const QString& name) {
    return {QStringLiteral("%1 is on the roster already.").arg(name).toStdString()};
}
} // namespace

Result<QVector<Person>> ProductionLog::people() const {
    QSqlQuery q(database());
    if (!run(q, QStringLiteral("SELECT id, name, active, mail FROM person ORDER BY name, id")))
        return failure(tr("read the roster"), q.lastError().text());
    QVector<Person> out;
    while (q.next())
        out.push_back(
            {q.value(0).toLongLong(), q.value(1).toString(), q.value(2).toBool(), q.value(3).toString()});
    return out;
}

Result<qint64> ProductionLog::addPerson(const QString& name, const QString& mail) {
    const QString trimmed = name.simplified();
    if (trimmed.isEmpty())
        return Error{say("A person needs a name.")};
    qint64 id = 0;
    const auto done = inTransaction(QStringLiteral("add a person"), [&]() -> Result<Done> {
        QSqlQuery q(database());
        if (!run(q, QStringLiteral("INSERT INTO person (name, mail) VALUES (?, ?) RETURNING id"),
                 {trimmed, text(mail.simplified())}) ||
            !(id = returnedId(q)))
            return isTaken(q) ? taken(trimmed) : failure(tr("add a person"), q.lastError().text());
        return Done{};
    });
    if (!done)
        return Error{done.error()};
    return id;
}

Result<Done> ProductionLog::renamePerson(qint64 id, const QString& name, const QString& author) {
    const QString trimmed = name.simplified();
    if (trimmed.isEmpty())
        return Error{say("A person needs a name.")};
    return inTransaction(QStringLiteral("rename a person"), [&]() -> Result<Done> {
        QSqlQuery q(database());
        if (!run(q, QStringLiteral("SELECT name FROM person WHERE id = ?"), {id}) || !q.next())
            return failure(tr("rename a person"), tr("there is none of that number"));
        const QString before = q.value(0).toString();
        q.finish();
        if (!run(q, QStringLiteral("UPDATE person SET name = ? WHERE id = ?"), {trimmed, id}))
            return isTaken(q) ? taken(trimmed) : failure(tr("rename a person"), q.lastError().text());
        if (before == trimmed)
            return Done{};
        // what they have goes with the name; what was said of it under the old one stays said
        const QString at = nowText();
        if (!run(q,
                 QStringLiteral("INSERT INTO event (defect_id, at, author, field, value, based_on, reason)"
                                " SELECT defect_id, ?, ?, 'assignee', ?, version, ? FROM defect_now"
                                " WHERE assignee = ? ORDER BY defect_id"),
                 {at, text(author), trimmed, QStringLiteral("%1 is now called %2").arg(before, trimmed),
                  before}) ||
            !run(q,
                 QStringLiteral("UPDATE defect_now SET assignee = ?, changed_at = ?, version ="
                                " (SELECT MAX(e.id) FROM event e WHERE e.defect_id = defect_now.defect_id)"
                                " WHERE assignee = ?"),
                 {trimmed, at, before}))
            return failure(tr("rename a person"), q.lastError().text());
        return Done{};
    });
}

Result<Done> ProductionLog::setPersonMail(qint64 id, const QString& mail) {
    return inTransaction(QStringLiteral("change the roster"), [&]() -> Result<Done> {
        QSqlQuery q(database());
        if (!run(q, QStringLiteral("UPDATE person SET mail = ? WHERE id = ?"), {text(mail.simplified()), id}))
            return failure(tr("change the roster"), q.lastError().text());
        return Done{};
    });
}

Result<Done> ProductionLog::setPersonActive(qint64 id, bool active) {
    return inTransaction(QStringLiteral("change the roster"), [&]() -> Result<Done> {
        QSqlQuery q(database());
        if (!run(q, QStringLiteral("UPDATE person SET active = ? WHERE id = ?"), {active ? 1 : 0, id}))
            return failure(tr("change the roster"), q.lastError().text());
        return Done{};
    });
}

} // namespace hobble
