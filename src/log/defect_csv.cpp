#include "log/defect_csv.h"

#include "core/words/say.h"
#include "io/csv.h"
#include "log/log_words.h"

#include <QFile>
#include <QHash>

namespace hobble {

namespace {

const QStringList& header() {
    static const QStringList names{
        QStringLiteral("number"),   QStringLiteral("character"),  QStringLiteral("build"),
        QStringLiteral("what"),     QStringLiteral("kind"),       QStringLiteral("joint"),
        QStringLiteral("side"),     QStringLiteral("limb"),       QStringLiteral("motion"),
        QStringLiteral("at"),       QStringLiteral("value"),      QStringLiteral("limit"),
        QStringLiteral("severity"), QStringLiteral("state"),      QStringLiteral("who"),
        QStringLiteral("due"),      QStringLiteral("reason"),     QStringLiteral("logged"),
        QStringLiteral("changed"),  QStringLiteral("cause"),      QStringLiteral("frames of the show"),
        QStringLiteral("comments"), QStringLiteral("new comment")};
    return names;
}

Result<QVector<QStringList>> readCsv(const QByteArray& csv) {
    const auto rows = csvRows(csv.toStdString());
    if (!rows)
        return Error{rows.error()};
    QVector<QStringList> out;
    for (const auto& cells : *rows) {
        out << QStringList();
        for (const std::string& cell : cells)
            out.back() << QString::fromStdString(cell);
    }
    return out;
}

} // namespace

QString commentsIn(const QVector<DefectEvent>& history) {
    QStringList said;
    for (const DefectEvent& e : history)
        if (e.field == QLatin1String("comment"))
            said << QStringLiteral("%1: %2").arg(e.author, e.value);
    return said.join(QLatin1Char('\n'));
}

QByteArray csvLine(const QStringList& cells) {
    QByteArrayList out;
    for (const QString& cell : cells)
        out << QByteArray::fromStdString(csvCell(cell.toStdString()));
    return out.join(',') + "\r\n";
}

QByteArray defectsToCsv(const QVector<Defect>& defects, const QVector<QString>& comments) {
    QByteArray out = "\xEF\xBB\xBF" + csvLine(header());
    for (int i = 0; i < defects.size(); ++i) {
        const Defect& d = defects[i];
        const DefectFacts& f = d.facts;
        out += csvLine({QString::number(d.id),
                        d.build.character,
                        QString::number(d.build.number),
                        f.what,
                        f.kind,
                        f.joint,
                        f.side,
                        f.limb,
                        f.motionName,
                        f.at,
                        QString::number(f.value, 'g', 6),
                        QString::number(f.limit, 'g', 6),
                        QString::number(d.severity),
                        nameOf(d.state),
                        d.assignee,
                        d.due,
                        QString(),
                        d.loggedAt.toString(Qt::ISODate),
                        d.changedAt.toString(Qt::ISODate),
                        f.cause,
                        d.use ? QString::number(d.use->frames) : QString(),
                        i < comments.size() ? comments[i] : QString(),
                        QString()});
    }
    return out;
}

Result<CsvChanges> changesFromCsv(const QByteArray& csv, const QVector<Defect>& defects,
                                  const QVector<BuildState>& builds) {
    const auto rows = readCsv(csv);
    if (!rows)
        return Error{rows.error()};
    if (rows->isEmpty())
        return Error{say("The table is empty.")};
    QHash<QString, int> columns;
    for (int c = 0; c < rows->front().size(); ++c)
        columns[rows->front()[c].trimmed().toLower()] = c;
    if (!columns.contains(QStringLiteral("number")))
        return Error{say("The table has no column “number”; its first line has to name the columns.")};
    CsvChanges out;
    for (int r = 1; r < rows->size(); ++r) {
        const QStringList& row = (*rows)[r];
        const auto cell = [&](const char* name) -> std::optional<QString> {
            const int c = columns.value(QLatin1String(name), -1);
            return c >= 0 && c < row.size() ? std::optional(row[c].trimmed()) : std::nullopt;
        };
        const auto problem = [&](const QString& what) {
            out.problems << tr("Line %1: %2.").arg(r + 1).arg(what);
        };
        const QString number = cell("number").value_or(QString());
        if (number.isEmpty()) {
            const QString character = cell("character").value_or(QString());
            const QString what = cell("what").value_or(QString());
            const int build = cell("build").value_or(QString()).toInt();
            const auto known = std::find_if(builds.begin(), builds.end(), [&](const BuildState& b) {
                return b.build.character == character && b.build.number == build;
            });
            if (what.isEmpty() || known == builds.end()) {
                problem(
                    QStringLiteral("a new defect needs what it is, and a character and build the log knows"));
                continue;
            }
            DefectFacts f;
            f.buildId = known->build.id;
            f.what = what;
            f.kind = cell("kind").value_or(QString());
            f.joint = cell("joint").value_or(QString());
            f.side = cell("side").value_or(QString());
            f.limb = cell("limb").value_or(QString());
            f.cause = cell("cause").value_or(QString());
            f.pose = f.camera = f.marks = "{}";
            out.fresh.push_back(
                {f, std::clamp(cell("severity").value_or(QStringLiteral("2")).toInt(), 1, 4)});
            continue;
        }
        const auto d = std::find_if(defects.begin(), defects.end(),
                                    [&](const Defect& x) { return QString::number(x.id) == number; });
        if (d == defects.end()) {
            problem(QStringLiteral("there is no defect “%1”").arg(number));
            continue;
        }
        const QString reason = cell("reason").value_or(QString());
        // the person first: giving it to somebody moves its state by itself
        for (const auto& [column, field, before] : {std::tuple("who", "assignee", d->assignee),
                                                    {"severity", "severity", QString::number(d->severity)},
                                                    {"due", "due", d->due},
                                                    {"state", "state", nameOf(d->state)}}) {
            const auto now = cell(column);
            if (!now || *now == before)
                continue;
            if (QLatin1String(field) == QLatin1String("severity") && (now->toInt() < 1 || now->toInt() > 4)) {
                problem(QStringLiteral("“%1” is no severity").arg(*now));
                continue;
            }
            if (QLatin1String(field) == QLatin1String("state")) {
                const auto to = stateCalled(*now);
                if (!to || !mayMove(d->state, *to)) {
                    problem(
                        QStringLiteral("defect %1 is %2 and cannot become “%3”").arg(number, before, *now));
                    continue;
                }
                if (needsReason(d->state, *to) && reason.isEmpty()) {
                    problem(QStringLiteral("defect %1 needs a reason to become %2").arg(number, *now));
                    continue;
                }
            }
            out.changes.push_back({d->id, QLatin1String(field), *now, d->version, reason, false});
        }
        if (const QString said = cell("new comment").value_or(QString()); !said.isEmpty())
            out.changes.push_back({d->id, QStringLiteral("comment"), said, d->version, {}, false});
    }
    return out;
}

Result<CsvTaken> takeCsv(const QString& path, ProductionLog& log, const QString& author) {
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly))
        return Error{tr("Cannot read %1: %2.").arg(path, file.errorString()).toStdString()};
    const auto defects = log.defects();
    const auto builds = log.builds({});
    if (!defects || !builds)
        return Error{!defects ? defects.error() : builds.error()};
    auto read = changesFromCsv(file.readAll(), *defects, *builds);
    if (!read)
        return Error{read.error()};
    CsvTaken out;
    out.problems = read->problems;
    const auto written = log.change(read->changes, author);
    if (!written)
        return Error{written.error()};
    out.changes = static_cast<int>(written->versions.size() - written->clashes.size());
    for (const Clash& c : written->clashes)
        out.problems << c.words();
    for (const auto& [facts, severity] : read->fresh) {
        if (const auto id = log.addDefect(facts, severity, author); !id)
            return Error{id.error()};
        ++out.fresh;
    }
    return out;
}

} // namespace hobble
