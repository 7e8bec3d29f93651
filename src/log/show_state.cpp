#include "log/show_state.h"

#include "log/log_words.h"
#include "log/query.h"

#include <QHash>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QMap>

#include <algorithm>

namespace hobble {

namespace {

QDate mondayBefore(const QDate& day) { return day.addDays(1 - day.dayOfWeek()); }

RunFigures figuresFrom(const QDateTime& at, const QByteArray& json) {
    const QJsonObject in = QJsonDocument::fromJson(json).object();
    RunFigures out;
    out.at = at;
    out.coverage = in.value(QStringLiteral("coverage")).toDouble(-1);
    const QJsonArray faults = in.value(QStringLiteral("faults")).toArray();
    for (int s = 1; s <= 4; ++s)
        out.faults[static_cast<std::size_t>(s)] = faults.at(s - 1).toInt();
    return out;
}

// The newest run of each build that says its figures.
Result<QHash<qint64, RunFigures>> newestFigures(const ProductionLog& log) {
    QSqlQuery q(log.database());
    if (!run(q,
             QStringLiteral(
                 "SELECT e.build_id, e.at, e.value FROM build_event e WHERE e.field = 'run' AND e.id ="
                 " (SELECT MAX(n.id) FROM build_event n WHERE n.build_id = e.build_id AND n.field = 'run')")))
        return log.failure(tr("read the runs"), q.lastError().text());
    QHash<qint64, RunFigures> out;
    while (q.next())
        out.insert(q.value(0).toLongLong(), figuresFrom(timeOf(q.value(1)), q.value(2).toString().toUtf8()));
    return out;
}

// Per character, how many defects were open at the end of each week. Withdrawn ones and duplicates count
// nowhere.
Result<QHash<QString, QVector<int>>> openByWeek(const ProductionLog& log, const QDate& week, int weeks) {
    QSqlQuery q(log.database());
    if (!run(q, QStringLiteral(
                    "SELECT e.defect_id, e.at, e.value, b.character FROM event e"
                    " JOIN defect d ON d.id = e.defect_id JOIN build b ON b.id = d.build_id"
                    " JOIN defect_now s ON s.defect_id = d.id"
                    " WHERE e.field = 'state' AND s.state NOT IN ('withdrawn', 'duplicate') ORDER BY e.id")))
        return log.failure(tr("read how it went"), q.lastError().text());
    QHash<QString, QVector<int>> out;
    QHash<qint64, bool> open;
    const QDate first = week.addDays(-7 * (weeks - 1));
    while (q.next()) {
        const qint64 id = q.value(0).toLongLong();
        const bool is = isOpen(stateCalled(q.value(2).toString()).value_or(DefectState::Logged));
        if (open.value(id, false) == is)
            continue;
        open[id] = is;
        auto& points = out[q.value(3).toString()];
        points.resize(weeks, 0);
        const qint64 at = std::max<qint64>(0, first.daysTo(timeOf(q.value(1)).date()) / 7);
        if (at < weeks)
            points[at] += is ? 1 : -1;
    }
    for (auto& points : out)
        for (int w = 1; w < weeks; ++w)
            points[w] += points[w - 1];
    return out;
}

} // namespace

Result<ShowState> showState(const ProductionLog& log, const QDateTime& now, int weeks, bool pictures) {
    ShowState out;
    out.week = mondayBefore(now.toUTC().date());
    const auto builds = log.builds({});
    if (!builds)
        return Error{builds.error()};
    const auto figures = newestFigures(log);
    if (!figures)
        return Error{figures.error()};
    const auto went = openByWeek(log, out.week, weeks);
    if (!went)
        return Error{went.error()};
    QMap<QString, CharacterState> by;
    for (const BuildState& b : *builds) { // in the order they were first seen: the last is the newest
        CharacterState& c = by[b.build.character];
        c.character = b.build.character;
        c.build = b.build;
        c.seenAt = b.seenAt;
        c.score = b.score;
        c.run = figures->contains(b.build.id) ? std::optional(figures->value(b.build.id)) : std::nullopt;
    }
    const auto defects = log.defects();
    if (!defects)
        return Error{defects.error()};
    QHash<QString, int> worst; // severity of the one shown
    for (const Defect& d : *defects) {
        CharacterState& c = by[d.build.character];
        c.changedAt = std::max(c.changedAt, d.changedAt);
        if (!isOpen(d.state))
            continue;
        ++c.open[static_cast<std::size_t>(std::clamp(d.severity, 1, 4))];
        c.toBeChecked += d.state == DefectState::ToBeChecked;
        if (d.severity > worst.value(d.build.character)) {
            worst[d.build.character] = d.severity;
            c.worst = d.id;
            c.worstWhat = d.facts.what;
        }
    }
    for (CharacterState& c : by) {
        c.openByWeek = went->value(c.character, QVector<int>(weeks, 0));
        const auto signs = signOffs(log, c.character);
        if (!signs)
            return Error{signs.error()};
        for (const SignOff& s : *signs) // the newest first
            if (s.stands() && s.build.id == c.build.id && !c.signedOff)
                c.signedOff = s;
            else if (s.stands() && s.build.id != c.build.id)
                c.signedBefore = std::max(c.signedBefore, s.build.number);
        if (pictures && c.worst) {
            const auto whole = log.defect(c.worst);
            if (!whole)
                return Error{whole.error()};
            c.picture = whole->facts.picture;
        }
        out.characters << c;
    }
    std::stable_sort(out.characters.begin(), out.characters.end(),
                     [](const CharacterState& a, const CharacterState& b) {
                         for (std::size_t s = 4; s >= 1; --s)
                             if (a.open[s] != b.open[s])
                                 return a.open[s] > b.open[s];
                         return false; // by name, as they are
                     });
    return out;
}

std::string showToJson(const ShowState& show) {
    QJsonArray characters;
    for (const CharacterState& c : show.characters) {
        const auto bySeverity = [](const std::array<int, 5>& n) {
            return QJsonArray{n[1], n[2], n[3], n[4]};
        };
        QJsonArray weeks;
        for (int n : c.openByWeek)
            weeks.append(n);
        QJsonObject o{{QStringLiteral("character"), c.character},
                      {QStringLiteral("build"), c.build.number},
                      {QStringLiteral("hash"), c.build.hash},
                      {QStringLiteral("file"), c.build.path},
                      {QStringLiteral("seen"), c.seenAt.toString(Qt::ISODateWithMs)},
                      {QStringLiteral("open"), bySeverity(c.open)},
                      {QStringLiteral("toBeChecked"), c.toBeChecked},
                      {QStringLiteral("openByWeek"), weeks},
                      {QStringLiteral("intake"), c.score < 0 ? QJsonValue() : QJsonValue(c.score)},
                      {QStringLiteral("signedOff"), QJsonValue()},
                      {QStringLiteral("run"), QJsonValue()},
                      {QStringLiteral("worst"), QJsonValue()}};
        if (c.signedOff)
            o[QStringLiteral("signedOff")] =
                QJsonObject{{QStringLiteral("for"), c.signedOff->state.use},
                            {QStringLiteral("by"), c.signedOff->author},
                            {QStringLiteral("at"), c.signedOff->at.toString(Qt::ISODateWithMs)}};
        if (c.run)
            o[QStringLiteral("run")] =
                QJsonObject{{QStringLiteral("at"), c.run->at.toString(Qt::ISODateWithMs)},
                            {QStringLiteral("coverage"), c.run->coverage},
                            {QStringLiteral("faults"), bySeverity(c.run->faults)}};
        if (c.worst)
            o[QStringLiteral("worst")] =
                QJsonObject{{QStringLiteral("defect"), c.worst}, {QStringLiteral("what"), c.worstWhat}};
        characters.append(o);
    }
    return QJsonDocument(QJsonObject{{QStringLiteral("format"), QStringLiteral("hobble-show")},
                                     {QStringLiteral("version"), 1},
                                     {QStringLiteral("sentence"), showSentence(show)},
                                     {QStringLiteral("week"), show.week.toString(Qt::ISODate)},
                                     {QStringLiteral("characters"), characters}})
        .toJson()
        .toStdString();
}

QString showSentence(const ShowState& show) {
    int signed_ = 0, open = 0, blocking = 0;
    for (const CharacterState& c : show.characters) {
        signed_ += c.signedOff.has_value();
        open += c.openAll();
        blocking += c.open[4];
    }
    const auto count = [](qsizetype n, const char* one, const char* many) {
        return n == 1 ? QString::fromLatin1(one) : QStringLiteral("%1 %2").arg(n).arg(QLatin1String(many));
    };
    return QStringLiteral("%1, %2 signed off; %3 open, %4 of them blocking")
        .arg(count(show.characters.size(), "one character", "characters"))
        .arg(signed_)
        .arg(count(open, "one defect", "defects"))
        .arg(blocking);
}

} // namespace hobble
