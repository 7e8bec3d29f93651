// Reading defects: for a list without what is large, or one with all of it.
#include "log/defect_use.h"
#include "log/log_words.h"
#include "log/production_log.h"
#include "log/query.h"

#include <QSqlError>

namespace hobble {

namespace {

Defect defectFrom(const QSqlQuery& q, const DefectQuery& query) {
    Defect d;
    int c = 0;
    auto next = [&] { return q.value(c++); };
    d.id = next().toLongLong();
    d.facts.buildId = d.build.id = next().toLongLong();
    for (QString* words : {&d.facts.joint, &d.facts.side, &d.facts.role, &d.facts.part, &d.facts.kind,
                           &d.facts.motion, &d.facts.motionName, &d.facts.limb})
        *words = next().toString();
    for (double* number : {&d.facts.onset, &d.facts.degrees, &d.facts.value, &d.facts.limit})
        *number = next().toDouble();
    d.facts.what = next().toString();
    d.facts.cause = next().toString();
    d.facts.at = next().toString();
    d.facts.unit = next().toString();
    d.state = stateCalled(next().toString()).value_or(DefectState::Logged);
    d.severity = next().toInt();
    d.assignee = next().toString();
    d.due = next().toString();
    d.duplicateOf = next().toLongLong();
    d.version = next().toLongLong();
    d.loggedAt = timeOf(next());
    d.changedAt = timeOf(next());
    d.build.character = next().toString();
    d.build.hash = next().toString();
    d.build.path = next().toString();
    d.build.number = next().toInt();
    d.use = useFrom(next().toString());
    if (query.marks || query.everything)
        d.facts.marks = next().toByteArray();
    if (query.everything)
        for (QByteArray* bytes : {&d.facts.pose, &d.facts.camera, &d.facts.picture})
            *bytes = next().toByteArray();
    return d;
}

// Names of characters, kinds and people repeat ten thousandfold: equal texts share one memory.
class Sharing {
public:
    void operator()(Defect& d) {
        for (QString* s : {&d.facts.joint, &d.facts.side, &d.facts.role, &d.facts.part, &d.facts.kind,
                           &d.facts.motion, &d.facts.motionName, &d.facts.limb, &d.facts.at, &d.facts.unit,
                           &d.assignee, &d.due, &d.build.character, &d.build.hash, &d.build.path})
            *s = *known_.insert(*s);
    }

private:
    QSet<QString> known_;
};

} // namespace

Result<QVector<Defect>> ProductionLog::defects(const DefectQuery& query) const {
    QString sql = QStringLiteral(
        "SELECT d.id, d.build_id, d.joint, d.side, d.role, d.part, d.kind, d.motion, d.motion_name, d.limb, "
        "d.onset,"
        " d.degrees, d.value, d.limit_value, d.what, d.cause, d.at_words, d.unit, s.state, s.severity, "
        "s.assignee, s.due,"
        " s.duplicate_of, s.version, s.logged_at, s.changed_at, b.character, b.hash, b.path, b.number,"
        " (SELECT u.value FROM event u WHERE u.field = 'use' AND u.defect_id = d.id"
        "  ORDER BY u.id DESC LIMIT 1)");
    if (query.marks || query.everything)
        sql += QStringLiteral(", d.marks");
    if (query.everything)
        sql += QStringLiteral(", d.pose, d.camera, d.picture");
    sql += QStringLiteral(
        " FROM defect_now s JOIN defect d ON d.id = s.defect_id JOIN build b ON b.id = d.build_id"
        " WHERE s.version > ?");
    QVariantList values{query.changedAfter};
    if (!query.character.isEmpty()) {
        sql += QStringLiteral(" AND b.character = ?");
        values << query.character;
    }
    if (query.id) {
        sql += QStringLiteral(" AND d.id = ?");
        values << query.id;
    }
    QSqlQuery q(database());
    if (!run(q, sql + QStringLiteral(" ORDER BY d.id"), values))
        return failure(tr("read the defects"), q.lastError().text());
    QVector<Defect> out;
    Sharing share;
    while (q.next()) {
        out.push_back(defectFrom(q, query));
        share(out.back());
    }
    if (q.lastError().isValid())
        return failure(tr("read the defects"), q.lastError().text());
    return out;
}

Result<Defect> ProductionLog::defect(qint64 id) const {
    auto found = defects({.id = id, .everything = true});
    if (!found)
        return Error{found.error()};
    if (id <= 0 || found->isEmpty())
        return failure(tr("read the defect"), tr("there is none of that number"));
    return found->front();
}

Result<qint64> ProductionLog::newestEvent() const {
    QSqlQuery q(database());
    if (!run(q, QStringLiteral("SELECT MAX(id) FROM event")) || !q.next())
        return failure(tr("read the history"), q.lastError().text());
    return q.value(0).toLongLong();
}

Result<QVector<DefectEvent>> ProductionLog::history(qint64 defectId) const {
    QSqlQuery q(database());
    if (!run(q,
             QStringLiteral("SELECT e.id, e.at, e.author, e.field, e.value, e.reason, b.number FROM event e"
                            " LEFT JOIN build b ON b.id = e.build_id WHERE e.defect_id = ? ORDER BY e.id"),
             {defectId}))
        return failure(tr("read the history"), q.lastError().text());
    QVector<DefectEvent> out;
    while (q.next())
        out.push_back({q.value(0).toLongLong(), timeOf(q.value(1)), q.value(2).toString(),
                       q.value(3).toString(), q.value(4).toString(), q.value(5).toString(),
                       q.value(6).toInt()});
    return out;
}

Result<QVector<std::pair<qint64, QString>>> ProductionLog::comments(qint64 after) const {
    QSqlQuery q(database());
    if (!run(q,
             QStringLiteral(
                 "SELECT defect_id, value FROM event WHERE field = 'comment' AND id > ? ORDER BY id"),
             {after}))
        return failure(tr("read the comments"), q.lastError().text());
    QVector<std::pair<qint64, QString>> out;
    while (q.next())
        out.push_back({q.value(0).toLongLong(), q.value(1).toString()});
    return out;
}

Result<QVector<qint64>> ProductionLog::mentionsOf(const QString& person) const {
    QSqlQuery q(database());
    QString pattern = person; // a name is text, not a pattern
    for (const char* special : {"\\", "%", "_"})
        pattern.replace(QLatin1String(special), QLatin1Char('\\') + QLatin1String(special));
    if (!run(q,
             QStringLiteral(
                 "SELECT DISTINCT defect_id FROM event WHERE field = 'comment' AND value LIKE ? ESCAPE '\\'"
                 " ORDER BY defect_id"),
             {QStringLiteral("%@") + pattern + QLatin1Char('%')}))
        return failure(tr("read the comments"), q.lastError().text());
    QVector<qint64> out;
    while (q.next())
        out.push_back(q.value(0).toLongLong());
    return out;
}

Result<QVector<std::pair<qint64, QByteArray>>> ProductionLog::mergedFindings() const {
    QSqlQuery q(database());
    if (!run(q,
             QStringLiteral("SELECT defect_id, field, value FROM event WHERE field IN ('same fault', 'not the"
                            " same fault') ORDER BY id")))
        return failure(tr("read the merged findings"), q.lastError().text());
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

} // namespace hobble
