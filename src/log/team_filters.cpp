// What is shown of the log, kept under a name for everybody. Nothing is overwritten: the newest row of a name
// counts.
#include "core/words/say.h"
#include "log/log_words.h"
#include "log/production_log.h"
#include "log/query.h"

#include <QSqlError>

namespace hobble {

Result<QVector<TeamFilter>> ProductionLog::teamFilters() const {
    QSqlQuery q(database());
    if (!run(q, QStringLiteral("SELECT name, author, filter FROM team_filter WHERE id IN"
                               " (SELECT MAX(id) FROM team_filter GROUP BY name) AND filter <> ''"
                               " ORDER BY name")))
        return failure(tr("read the filters"), q.lastError().text());
    QVector<TeamFilter> out;
    while (q.next())
        out.push_back({q.value(0).toString(), q.value(1).toString(), q.value(2).toByteArray()});
    return out;
}

Result<Done> ProductionLog::keepTeamFilter(const QString& name, const QByteArray& filter,
                                           const QString& author) {
    const QString trimmed = name.simplified();
    if (trimmed.isEmpty())
        return Error{say("A filter needs a name.")};
    return inTransaction(QStringLiteral("keep a filter"), [&]() -> Result<Done> {
        QSqlQuery q(database());
        if (!run(q, QStringLiteral("INSERT INTO team_filter (at, author, name, filter) VALUES (?, ?, ?, ?)"),
                 {nowText(), text(author), trimmed, text(QString::fromUtf8(filter))}))
            return failure(tr("keep a filter"), q.lastError().text());
        return Done{};
    });
}

} // namespace hobble
