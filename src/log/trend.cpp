#include "log/trend.h"

#include "log/date_words.h"
#include "log/log_words.h"
#include "log/query.h"

#include <QHash>
#include <QSet>
#include <QSqlError>

#include <algorithm>
#include <map>

namespace hobble {

namespace {

// What a defect is at while its events are lived through.
struct Life {
    DefectState state = DefectState::Logged;
    int severity = 0;
    bool begun = false, counts = false;
    QDateTime loggedAt;
    qsizetype openSince = -1; // a place in spans
};

QDate mondayOf(const QDate& day) { return day.addDays(1 - day.dayOfWeek()); }

} // namespace

QVector<qint64> Trend::openAt(qsizetype point, int severity) const {
    QVector<qint64> out;
    for (const Span& s : spans)
        if (s.from <= point && (s.to < 0 || s.to > point) && (severity == 0 || s.severity == severity))
            out << s.defect;
    return out;
}

Result<Trend> trendOf(const ProductionLog& log, const TrendQuery& query) {
    QSqlQuery q(log.database());
    // Withdrawn ones and duplicates are left out by what they are now.
    QString sql = QStringLiteral(
        "SELECT e.defect_id, e.at, e.field, e.value, b.number, l.number FROM event e JOIN defect d ON d.id = "
        "e.defect_id"
        " JOIN build l ON l.id = d.build_id JOIN defect_now s ON s.defect_id = d.id"
        " LEFT JOIN build b ON b.id = e.build_id"
        " WHERE (e.field IN ('state', 'severity') OR (e.field = 'verdict' AND e.value LIKE ?)) AND s.state "
        "NOT IN ('withdrawn', 'duplicate')");
    QVariantList values{QLatin1Char('%') + kOnOneSide};
    for (const auto& [column, value] : {std::pair("l.character", query.character),
                                        std::pair("d.joint", query.joint), std::pair("d.kind", query.kind)})
        if (!value.isEmpty()) {
            sql += QStringLiteral(" AND %1 = ?").arg(QLatin1String(column));
            values << value;
        }
    if (!query.cause.isEmpty()) {
        sql += QStringLiteral(" AND (d.cause = ? OR substr(d.cause, 1, ?) = ?)");
        values << query.cause << query.cause.size() + 1 << query.cause + QLatin1Char(':');
    }
    if (!run(q, sql + QStringLiteral(" ORDER BY e.id"), values))
        return log.failure(tr("read the trend"), q.lastError().text());

    Trend out;
    struct Told {
        qint64 defect;
        QDateTime at;
        enum Of { State, Severity, Verdict } of;
        QString value;
        int build;
    };
    QVector<Told> events;
    while (q.next()) {
        const QString field = q.value(2).toString();
        Told t{q.value(0).toLongLong(), timeOf(q.value(1)),
               field == QLatin1String("state")     ? Told::State
               : field == QLatin1String("verdict") ? Told::Verdict
                                                   : Told::Severity,
               q.value(3).toString(), q.value(4).toInt()};
        if (t.build == 0)
            t.build = q.value(5).toInt(); // said without a build: of the one it was logged on
        events << t;
    }
    if (events.isEmpty())
        return out;
    // The points, and where an event falls.
    std::map<int, qsizetype> buildAt;
    QDate first, last;
    if (query.over == TrendQuery::Builds) {
        for (const Told& t : events)
            buildAt.emplace(t.build, 0);
        for (auto& [number, at] : buildAt) {
            at = out.points.size();
            TrendPoint p;
            p.build = number;
            p.label = QCoreApplication::translate("hobble", "build %1").arg(number);
            out.points << p;
        }
    } else {
        for (const Told& t : events) {
            const QDate monday = mondayOf(t.at.date());
            first = first.isNull() ? monday : std::min(first, monday);
            last = last.isNull() ? monday : std::max(last, monday);
        }
        constexpr int most = 520; // ten years: what lies before is one point
        if (first.daysTo(last) / 7 >= most)
            first = last.addDays(-7 * (most - 1));
        for (QDate day = first; day <= last; day = day.addDays(7)) {
            TrendPoint p;
            p.from = day;
            p.label = dateWords(day, DateAs::Day);
            out.points << p;
        }
    }
    const auto placeOf = [&](const Told& t) {
        return query.over == TrendQuery::Builds
                   ? buildAt.at(t.build)
                   : static_cast<qsizetype>(std::max<qint64>(0, first.daysTo(mondayOf(t.at.date())) / 7));
    };
    if (query.over == TrendQuery::Builds) // in the order of the builds, and within one as it was said
        std::stable_sort(events.begin(), events.end(),
                         [](const Told& a, const Told& b) { return a.build < b.build; });

    QHash<qint64, Life> lives;
    QVector<QVector<double>> days(out.points.size());
    const auto begin = [&](Life& life, qint64 defect, qsizetype at) {
        life.openSince = out.spans.size();
        out.spans.push_back({defect, at, -1, life.severity});
    };
    const auto end = [&](Life& life, qsizetype at) {
        if (life.openSince >= 0)
            out.spans[life.openSince].to = at;
        life.openSince = -1;
    };
    for (const Told& t : std::as_const(events)) {
        const qsizetype at = placeOf(t);
        Life& life = lives[t.defect];
        TrendPoint& p = out.points[at];
        if (t.of == Told::Verdict) {
            if (!p.oneSided.contains(t.defect))
                p.oneSided << t.defect;
            continue;
        }
        if (t.of == Told::Severity) {
            const int severity = std::clamp(t.value.toInt(), 1, 4);
            if (life.openSince >= 0 && severity != life.severity) {
                end(life, at);
                life.severity = severity;
                begin(life, t.defect, at);
            }
            life.severity = severity;
            continue;
        }
        const DefectState state = stateCalled(t.value).value_or(DefectState::Logged);
        if (!life.begun) {
            life.begun = true;
            life.loggedAt = t.at;
            p.found << t.defect;
            life.state = state;
            begin(life, t.defect, at);
            continue;
        }
        const bool was = isOpen(life.state), is = isOpen(state);
        if (was && !is) {
            end(life, at);
            if (state == DefectState::Closed) {
                p.cured << t.defect;
                days[at] << static_cast<double>(life.loggedAt.secsTo(t.at)) / 86400;
            } else {
                p.settled << t.defect;
            }
        } else if (!was && is) {
            if (life.state == DefectState::Closed)
                p.cameBack << t.defect;
            begin(life, t.defect, at);
        }
        life.state = state;
    }
    // what is open at the end of each point
    QVector<std::array<int, 5>> more(out.points.size() + 1, std::array<int, 5>{});
    for (const Trend::Span& s : std::as_const(out.spans)) {
        const auto severity = static_cast<std::size_t>(std::clamp(s.severity, 1, 4));
        if (s.to >= 0 && s.to <= s.from)
            continue; // came and went within one
        ++more[s.from][severity];
        if (s.to >= 0)
            --more[s.to][severity];
    }
    std::array<int, 5> open{};
    for (qsizetype i = 0; i < out.points.size(); ++i) {
        for (std::size_t k = 1; k < 5; ++k)
            open[k] += more[i][k];
        out.points[i].open = open;
        if (auto& d = days[i]; !d.isEmpty()) {
            std::nth_element(d.begin(), d.begin() + d.size() / 2, d.end());
            out.points[i].daysToCure = std::max(0.0, d[d.size() / 2]);
        }
    }
    return out;
}

QByteArray trendToCsv(const Trend& trend) {
    QByteArray out =
        "when,open 1,open 2,open 3,open 4,found,cured,came back,one side only,settled,days to cure\n";
    for (const TrendPoint& p : trend.points) {
        out += p.from.isValid() ? p.from.toString(Qt::ISODate).toUtf8() : p.label.toUtf8();
        for (std::size_t s = 1; s < 5; ++s)
            out += ',' + QByteArray::number(p.open[s]);
        for (const auto* ids : {&p.found, &p.cured, &p.cameBack, &p.oneSided, &p.settled})
            out += ',' + QByteArray::number(ids->size());
        out += ',' + (p.daysToCure < 0 ? QByteArray() : QByteArray::number(p.daysToCure, 'f', 1)) + '\n';
    }
    return out;
}

} // namespace hobble
