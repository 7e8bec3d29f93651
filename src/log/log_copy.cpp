#include "log/log_copy.h"

#include "log/log_rows.h"
#include "log/log_words.h"
#include "log/query.h"

#include <QHash>
#include <QJsonDocument>
#include <QJsonObject>
#include <QSet>
#include <QSqlError>

namespace hobble {

namespace {

Result<QString> checksumOfAll(const ProductionLog& log, int version) {
    QCryptographicHash hash(QCryptographicHash::Sha256);
    for (const LogTable& t : logTables()) {
        if (t.since > version)
            continue;
        hash.addData(t.name.toUtf8());
        auto read = eachRow(log, t, [&](const QVariantList& row) {
            addToChecksum(hash, t, row);
            return true;
        });
        if (!read)
            return Error{read.error()};
    }
    return QString::fromLatin1(hash.result().toHex());
}

Result<qint64> countOf(const ProductionLog& log, const QString& table) {
    QSqlQuery q(log.database());
    if (!run(q, QStringLiteral("SELECT COUNT(*) FROM %1").arg(table)) || !q.next())
        return log.failure(tr("count"), q.lastError().text());
    return q.value(0).toLongLong();
}

} // namespace

Result<QString> checksumOf(const ProductionLog& log, int version) {
    const ReadingAtOneMoment now(log);
    return checksumOfAll(log, version);
}

Result<Done> copyLog(const ProductionLog& from, ProductionLog& to, const CopyProgress& progress) {
    if (!to.isEmpty())
        return Error{tr("Cannot copy the log to %1: it holds a log already. Nothing was written.")
                         .arg(to.place())
                         .toStdString()};
    const ReadingAtOneMoment now(from);
    qint64 total = 0, done = 0;
    for (const LogTable& t : logTables()) {
        const auto n = countOf(from, t.name);
        if (!n)
            return Error{n.error()};
        total += *n;
    }
    QCryptographicHash hash(QCryptographicHash::Sha256);
    return to.inTransaction(QStringLiteral("copy"), [&]() -> Result<Done> {
        for (const LogTable& t : logTables()) {
            hash.addData(t.name.toUtf8());
            RowWriter writer(to, t);
            Result<Done> written = Done{};
            auto read = eachRow(from, t, [&](const QVariantList& row) {
                addToChecksum(hash, t, row);
                written = writer.add(row);
                return written.ok() && (!progress || progress(++done, total));
            });
            if (written && read)
                written = writer.finish();
            if (!written)
                return written;
            if (!read)
                return read;
        }
        if (auto settled = settleNumbers(to); !settled)
            return settled;
        const auto arrived = checksumOfAll(to, newestLogVersion());
        if (!arrived)
            return Error{arrived.error()};
        if (*arrived != QString::fromLatin1(hash.result().toHex()))
            return Error{tr("What arrived in %1 is not what was sent; nothing was kept of it.")
                             .arg(to.place())
                             .toStdString()};
        return Done{};
    });
}

Result<Added> mergeLog(const ProductionLog& from, ProductionLog& to) {
    Added out;
    const QString doing = QStringLiteral("add what is new");
    const ReadingAtOneMoment now(from);
    const auto& tables = logTables();
    const auto tableCalled = [&](const char* name) -> const LogTable& {
        return *std::find_if(tables.begin(), tables.end(),
                             [&](const LogTable& t) { return t.name == QLatin1String(name); });
    };
    const auto done = to.inTransaction(doing, [&]() -> Result<Done> {
        QSqlQuery q(to.database());
        // Inserts a row without its number and gives back the new one.
        const auto insert = [&](const LogTable& t, QVariantList row) -> qint64 {
            const QStringList columns = t.columns.mid(1);
            row.removeFirst();
            return run(q,
                       QStringLiteral("INSERT INTO %1 (%2) VALUES (%3) RETURNING id")
                           .arg(t.name, columns.join(QStringLiteral(", ")),
                                QStringList(columns.size(), QStringLiteral("?")).join(QLatin1Char(','))),
                       row)
                       ? returnedId(q)
                       : 0;
        };
        const auto fail = [&] { return to.failure(doing, q.lastError().text()); };
        bool failed = false;
        QHash<qint64, qint64> builds, defects;

        const LogTable& person = tableCalled("person");
        auto read = eachRow(from, person, [&](const QVariantList& row) {
            if (!run(q, QStringLiteral("SELECT 1 FROM person WHERE name = ?"), {row[1]}))
                return !(failed = true);
            const bool known = q.next();
            q.finish();
            if (!known) {
                failed = !insert(person, row);
                ++out.people;
            }
            return !failed;
        });
        if (failed)
            return fail();
        if (!read)
            return read;

        const auto filters = from.teamFilters();
        if (!filters)
            return Error{filters.error()};
        for (const TeamFilter& f : *filters) {
            // defects picked one by one have other numbers here; one's own of that name stays, or stays
            // dropped
            if (QJsonDocument::fromJson(f.filter).object().contains(QStringLiteral("among")))
                continue;
            if (!run(q,
                     QStringLiteral("INSERT INTO team_filter (at, author, name, filter) SELECT ?, ?, ?, ?"
                                    " WHERE NOT EXISTS (SELECT 1 FROM team_filter WHERE name = ?)"),
                     {nowText(), text(f.author), f.name, QString::fromUtf8(f.filter), f.name}))
                return fail();
            q.finish();
        }

        QSet<qint64> newBuilds;
        const LogTable& build = tableCalled("build");
        read = eachRow(from, build, [&](const QVariantList& row) {
            if (!run(q, QStringLiteral("SELECT id FROM build WHERE hash = ?"), {row[2]}))
                return !(failed = true);
            qint64 id = q.next() ? q.value(0).toLongLong() : 0;
            q.finish();
            if (!id) {
                QVariantList numbered = row;
                if (!run(q, QStringLiteral("SELECT COUNT(*) + 1 FROM build WHERE character = ?"), {row[1]}) ||
                    !q.next())
                    return !(failed = true);
                numbered[4] = q.value(0);
                q.finish();
                failed = !(id = insert(build, numbered));
                newBuilds.insert(id);
                ++out.builds;
            }
            builds[row[0].toLongLong()] = id;
            return !failed;
        });
        if (failed)
            return fail();
        if (!read)
            return read;

        for (const char* ofBuilds : {"run", "inspection", "build_event"}) {
            const LogTable& t = tableCalled(ofBuilds);
            read = eachRow(from, t, [&](QVariantList row) {
                const qint64 id = builds[row[1].toLongLong()];
                if (!newBuilds.contains(id))
                    return true;
                row[1] = id;
                failed = !insert(t, row);
                out.runs += t.name == QLatin1String("run");
                return !failed;
            });
            if (failed)
                return fail();
            if (!read)
                return read;
        }

        const LogTable &defect = tableCalled("defect"), &event = tableCalled("event");
        QHash<qint64, QVariant> loggedAt;
        read = eachRow(from, event, [&](const QVariantList& row) {
            const qint64 of = row[1].toLongLong();
            if (!loggedAt.contains(of))
                loggedAt[of] = row[2];
            return true;
        });
        if (!read)
            return read;
        read = eachRow(from, defect, [&](QVariantList row) {
            const qint64 old = row[0].toLongLong();
            row[1] = builds[row[1].toLongLong()];
            const auto what = defect.columns.indexOf(QStringLiteral("what"));
            if (!run(q,
                     QStringLiteral("SELECT d.id FROM defect d JOIN defect_now n ON n.defect_id = d.id"
                                    " WHERE d.build_id = ? AND d.what = ? AND n.logged_at = ?"),
                     {row[1], row[what], loggedAt[old]}))
                return !(failed = true);
            const bool known = q.next();
            q.finish();
            if (known) {
                ++out.known;
                return true;
            }
            const qint64 id = insert(defect, row);
            defects[old] = id;
            ++out.defects;
            return !(failed = !id);
        });
        if (failed)
            return fail();
        if (!read)
            return read;
        read = eachRow(from, event, [&](QVariantList row) {
            const qint64 old = row[1].toLongLong();
            if (!defects.contains(old))
                return true;
            row[1] = defects[old];
            const QString field = row[4].toString();
            if (field == QLatin1String("duplicate of") || field == QLatin1String("split from"))
                row[5] = QString::number(defects.value(row[5].toLongLong()));
            if (!row[8].isNull())
                row[8] = builds[row[8].toLongLong()];
            return !(failed = !insert(event, row));
        });
        if (failed)
            return fail();
        if (!read)
            return read;
        for (const QString& s : rebuildCurrentState())
            if (!q.exec(s))
                return fail();
        return Done{};
    });
    if (!done)
        return Error{done.error()};
    return out;
}

Result<LogCheck> checkLog(const ProductionLog& log) {
    LogCheck out;
    QSqlQuery q(log.database());
    if (!log.address().postgres)
        for (const char* pragma : {"PRAGMA integrity_check", "PRAGMA foreign_key_check"}) {
            if (!run(q, QLatin1String(pragma)))
                return log.failure(tr("check"), q.lastError().text());
            while (q.next())
                if (q.value(0).toString() != QLatin1String("ok"))
                    out.problems << tr("The database says: %1.").arg(q.value(0).toString());
        }
    q.finish();
    const ReadingAtOneMoment now(log);
    for (const auto& [table, count] : {std::pair("defect", &out.defects),
                                       {"event", &out.events},
                                       {"build", &out.builds},
                                       {"run", &out.runs},
                                       {"person", &out.people}}) {
        const auto n = countOf(log, QLatin1String(table));
        if (!n)
            return Error{n.error()};
        *count = *n;
    }
    // Each history is lived through once more.
    struct Lived {
        QHash<QString, QString> newest;
        qint64 version = 0;
    };
    QHash<qint64, Lived> lived;
    QCryptographicHash hash(QCryptographicHash::Sha256);
    for (const LogTable& t : logTables()) {
        hash.addData(t.name.toUtf8());
        auto read = eachRow(log, t, [&](const QVariantList& row) {
            addToChecksum(hash, t, row);
            const auto at = [&](const char* column) { return row[t.columns.indexOf(QLatin1String(column))]; };
            if (t.name == QLatin1String("event")) {
                Lived& l = lived[at("defect_id").toLongLong()];
                l.newest[at("field").toString()] = at("value").toString();
                l.version = at("id").toLongLong();
                if (!timeOf(at("at")).isValid())
                    out.problems << tr("Event %1 has no readable time.").arg(at("id").toString());
            } else if (t.name == QLatin1String("defect")) {
                for (const char* json : {"pose", "camera", "marks"})
                    if (const QByteArray bytes = at(json).toByteArray();
                        !bytes.isEmpty() && QJsonDocument::fromJson(bytes).isNull())
                        out.problems << tr("The %1 of defect %2 cannot be read.")
                                            .arg(QLatin1String(json), at("id").toString());
            } else if (t.name == QLatin1String("run") && !at("curves").isNull() &&
                       qUncompress(at("curves").toByteArray()).isEmpty()) {
                out.problems << tr("The curves of run %1 cannot be read.").arg(at("id").toString());
            }
            return true;
        });
        if (!read)
            return Error{read.error()};
    }
    out.checksum = QString::fromLatin1(hash.result().toHex());
    const auto defects = log.defects();
    if (!defects)
        return Error{defects.error()};
    QSet<qint64> known;
    for (const Defect& d : *defects)
        known.insert(d.id);
    for (const Defect& d : *defects) {
        const Lived& l = lived[d.id];
        const auto same = [&](const char* field, const QString& is) {
            if (const QString was = l.newest.value(QLatin1String(field)); was != is)
                out.problems << tr("Defect %1 is kept with %2 “%3”, and its history says “%4”.")
                                    .arg(d.id)
                                    .arg(QLatin1String(field), is, was);
        };
        same("state", nameOf(d.state));
        same("severity", QString::number(d.severity));
        same("assignee", d.assignee);
        same("due", d.due);
        if (l.version != d.version)
            out.problems << tr("Defect %1 is kept as of event %2, and its newest is %3.")
                                .arg(d.id)
                                .arg(d.version)
                                .arg(l.version);
        if (d.duplicateOf && !known.contains(d.duplicateOf))
            out.problems
                << tr("Defect %1 is a duplicate of %2, which is not there.").arg(d.id).arg(d.duplicateOf);
    }
    if (defects->size() != out.defects)
        out.problems << QStringLiteral("%1 defects have no state.").arg(out.defects - defects->size());
    return out;
}

} // namespace hobble
