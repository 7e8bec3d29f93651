// Writing of defects: every change an event, none over another's.
#include "core/words/say.h"
#include "log/log_words.h"
#include "log/production_log.h"
#include "log/query.h"

#include <QSqlError>

namespace hobble {

namespace {

// What adds something and overwrites nothing.
bool onlyAdds(const QString& field) {
    return field == QLatin1String("comment") || field == QLatin1String("same fault") ||
           field == QLatin1String("not the same fault") || field == QLatin1String("split from") ||
           field == QLatin1String("verdict") || field == QLatin1String("proposal") ||
           field == QLatin1String("use");
}

// Where a field's newest value is kept besides its events; empty where it is nowhere.
QString columnOf(const QString& field) {
    static const QStringList plain{QStringLiteral("state"), QStringLiteral("severity"),
                                   QStringLiteral("assignee"), QStringLiteral("due")};
    return plain.contains(field)                    ? field
           : field == QLatin1String("duplicate of") ? QStringLiteral("duplicate_of")
                                                    : QString();
}

struct Now {
    DefectState state = DefectState::Logged;
    QString assignee;
};

} // namespace

QString Clash::words() const {
    return tr("Somebody changed defect %1 meanwhile: %2 set its %3 to “%4”. Look at it again; your "
              "change was not written.")
        .arg(change.defect)
        .arg(theirs.author, theirs.field, theirs.value);
}

Result<qint64> ProductionLog::enter(const DefectFacts& f, int severity, const QString& author,
                                    qint64 splitFrom) {
    qint64 id = 0;
    const QString doing = QStringLiteral("log the defect");
    const auto done = inTransaction(doing, [&]() -> Result<Done> {
        QSqlQuery q(database());
        const auto fail = [&] { return failure(doing, q.lastError().text()); };
        if (!run(q,
                 QStringLiteral(
                     "INSERT INTO defect (build_id, joint, side, role, part, kind, motion, motion_name, limb,"
                     " onset, degrees, value, limit_value, what, cause, pose, camera, marks, picture,"
                     " at_words, unit) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"
                     " RETURNING id"),
                 {f.buildId,
                  text(f.joint),
                  text(f.side),
                  text(f.role),
                  text(f.part),
                  text(f.kind),
                  text(f.motion),
                  text(f.motionName),
                  text(f.limb),
                  f.onset,
                  f.degrees,
                  f.value,
                  f.limit,
                  text(f.what),
                  text(f.cause),
                  text(QString::fromUtf8(f.pose)),
                  text(QString::fromUtf8(f.camera)),
                  text(QString::fromUtf8(f.marks)),
                  f.picture,
                  text(f.at),
                  text(f.unit)}) ||
            !(id = returnedId(q)))
            return fail();
        const QString at = nowText();
        QVector<std::pair<QString, QString>> first{{QStringLiteral("state"), nameOf(DefectState::Logged)},
                                                   {QStringLiteral("severity"), QString::number(severity)},
                                                   {QStringLiteral("assignee"), QStringLiteral("")}};
        if (splitFrom)
            first.push_back({QStringLiteral("split from"), QString::number(splitFrom)});
        qint64 version = 0;
        for (const auto& [field, value] : first)
            if (!run(q,
                     QStringLiteral(
                         "INSERT INTO event (defect_id, at, author, field, value, based_on, build_id)"
                         " VALUES (?, ?, ?, ?, ?, 0, ?) RETURNING id"),
                     {id, at, text(author), field, value, f.buildId}) ||
                !(version = returnedId(q)))
                return fail();
        if (!run(q,
                 QStringLiteral("INSERT INTO defect_now (defect_id, version, state, severity, assignee, due,"
                                " duplicate_of, logged_at, changed_at) VALUES (?, ?, ?, ?, '', '', 0, ?, ?)"),
                 {id, version, nameOf(DefectState::Logged), severity, at, at}))
            return fail();
        return Done{};
    });
    if (!done)
        return Error{done.error()};
    return id;
}

Result<qint64> ProductionLog::addDefect(const DefectFacts& facts, int severity, const QString& author) {
    return enter(facts, severity, author, 0);
}

Result<qint64> ProductionLog::splitDefect(qint64 from, const DefectFacts& facts, int severity,
                                          const QString& author) {
    return enter(facts, severity, author, from);
}

Result<Written> ProductionLog::change(const QVector<DefectChange>& changes, const QString& author,
                                      qint64 buildId) {
    Written out;
    const QString doing = QStringLiteral("change the defect"), at = nowText();
    const auto done = inTransaction(doing, [&]() -> Result<Done> {
        QSqlQuery q(database());
        const auto fail = [&] { return failure(doing, q.lastError().text()); };
        // Enters an event and what follows from it; its number, or 0.
        const auto enterEvent = [&](const DefectChange& c, const QString& field, const QString& value,
                                    const QString& reason) -> qint64 {
            if (!run(
                    q,
                    QStringLiteral("INSERT INTO event (defect_id, at, author, field, value, based_on, reason,"
                                   " build_id) VALUES (?, ?, ?, ?, ?, ?, ?, ?) RETURNING id"),
                    {c.defect, at, text(author), field, text(value), c.basedOn, text(reason),
                     buildId ? QVariant(buildId) : QVariant(QMetaType(QMetaType::LongLong))}))
                return 0;
            const qint64 id = returnedId(q);
            const QString column = columnOf(field);
            const bool number = field == QLatin1String("severity") || field == QLatin1String("duplicate of");
            QVariantList values{id, at};
            if (!column.isEmpty())
                values << (number ? QVariant(value.toLongLong()) : QVariant(text(value)));
            values << c.defect;
            return run(q,
                       QStringLiteral(
                           "UPDATE defect_now SET version = ?, changed_at = ?%1 WHERE defect_id = ?")
                           .arg(column.isEmpty() ? QString() : QStringLiteral(", %1 = ?").arg(column)),
                       values)
                       ? id
                       : 0;
        };
        for (const DefectChange& c : changes) {
            if (!run(q, QStringLiteral("SELECT state, assignee FROM defect_now WHERE defect_id = ?"),
                     {c.defect}))
                return fail();
            if (!q.next())
                return failure(doing, tr("there is no defect %1").arg(c.defect));
            const Now now{stateCalled(q.value(0).toString()).value_or(DefectState::Logged),
                          q.value(1).toString()};
            q.finish();
            if (!onlyAdds(c.field)) {
                if (!run(
                        q,
                        QStringLiteral(
                            "SELECT id, author, field, value, at FROM event WHERE defect_id = ? AND field = ?"
                            " ORDER BY id DESC LIMIT 1"),
                        {c.defect, c.field}))
                    return fail();
                if (q.next()) {
                    const DefectEvent theirs{q.value(0).toLongLong(),
                                             timeOf(q.value(4)),
                                             q.value(1).toString(),
                                             q.value(2).toString(),
                                             q.value(3).toString(),
                                             {},
                                             0};
                    q.finish();
                    if (theirs.value == text(c.value)) { // it is so already
                        out.versions.push_back(theirs.id);
                        continue;
                    }
                    // what one takes back oneself may have moved by itself meanwhile
                    if (theirs.id > c.basedOn && !(c.takesBack && theirs.author == text(author))) {
                        out.versions.push_back(0);
                        out.clashes.push_back({c, theirs});
                        continue;
                    }
                }
                q.finish();
            }
            if (c.field == QLatin1String("state")) {
                const auto to = stateCalled(c.value);
                if (!to)
                    return Error{tr("There is no state “%1”.").arg(c.value).toStdString()};
                if (!c.takesBack && !mayMove(now.state, *to))
                    return Error{tr("Defect %1 is %2; from there it cannot become %3.")
                                     .arg(c.defect)
                                     .arg(nameOf(now.state), nameOf(*to))
                                     .toStdString()};
                if (!c.takesBack && needsReason(now.state, *to) && c.reason.trimmed().isEmpty())
                    return Error{tr("Defect %1 needs a reason to become %2.")
                                     .arg(c.defect)
                                     .arg(nameOf(*to))
                                     .toStdString()};
            } else if (c.field == QLatin1String("severity")) {
                const int s = c.value.toInt();
                if (s < 1 || s > 4)
                    return Error{say("A severity is 1, 2, 3 or 4.")};
            }
            qint64 version = enterEvent(c, c.field, c.value, c.reason);
            if (version && c.field == QLatin1String("assignee")) {
                const bool given = !c.value.isEmpty();
                if (given && now.state == DefectState::Logged)
                    version = enterEvent(c, QStringLiteral("state"), nameOf(DefectState::Assigned), {});
                else if (!given && now.state == DefectState::Assigned)
                    version = enterEvent(c, QStringLiteral("state"), nameOf(DefectState::Logged), {});
            }
            if (!version)
                return fail();
            out.versions.push_back(version);
        }
        return Done{};
    });
    if (!done)
        return Error{done.error()};
    return out;
}

Result<qint64> ProductionLog::change(qint64 defectId, const QString& field, const QString& value,
                                     qint64 basedOn, const QString& author, const QString& reason) {
    const auto written = change({{defectId, field, value, basedOn, reason, false}}, author);
    if (!written)
        return Error{written.error()};
    if (!written->clashes.isEmpty())
        return Error{written->clashes.front().words().toStdString()};
    return written->versions.front();
}

} // namespace hobble
