#include "log/sign_off.h"

#include "core/words/say.h"
#include "log/log_words.h"
#include "log/query.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QSqlError>

#include <algorithm>

namespace hobble {

namespace {

const QString kSigned = QStringLiteral("sign-off"), kTakenBack = QStringLiteral("sign-off taken back");

} // namespace

QByteArray signedStateToJson(const SignedState& s) {
    QJsonArray accepted;
    for (const auto& x : s.accepted)
        accepted.append(QJsonObject{{QStringLiteral("defect"), x.defect},
                                    {QStringLiteral("what"), x.what},
                                    {QStringLiteral("reason"), x.reason},
                                    {QStringLiteral("severity"), x.severity}});
    return QJsonDocument(QJsonObject{{QStringLiteral("hash"), s.hash},
                                     {QStringLiteral("use"), s.use},
                                     {QStringLiteral("plan"), s.plan},
                                     {QStringLiteral("limits"), QJsonDocument::fromJson(s.limits).object()},
                                     {QStringLiteral("faults"), s.faults},
                                     {QStringLiteral("poses"), s.poses},
                                     {QStringLiteral("limit"), s.limit},
                                     {QStringLiteral("accepted"), accepted}})
        .toJson(QJsonDocument::Compact);
}

SignedState signedStateFromJson(const QByteArray& json) {
    const QJsonObject o = QJsonDocument::fromJson(json).object();
    SignedState s;
    s.hash = o.value(QStringLiteral("hash")).toString();
    s.use = o.value(QStringLiteral("use")).toString();
    s.plan = o.value(QStringLiteral("plan")).toString();
    s.limits = QJsonDocument(o.value(QStringLiteral("limits")).toObject()).toJson(QJsonDocument::Compact);
    s.faults = o.value(QStringLiteral("faults")).toInt();
    s.poses = o.value(QStringLiteral("poses")).toInt();
    s.limit = o.value(QStringLiteral("limit")).toInt(3);
    for (const auto& v : o.value(QStringLiteral("accepted")).toArray()) {
        const QJsonObject x = v.toObject();
        s.accepted.push_back(
            {x.value(QStringLiteral("defect")).toInteger(), x.value(QStringLiteral("what")).toString(),
             x.value(QStringLiteral("reason")).toString(), x.value(QStringLiteral("severity")).toInt()});
    }
    return s;
}

QVector<InTheWay> defectsInTheWay(const QVector<Defect>& defects, const QString& character, int limit) {
    QVector<InTheWay> out;
    for (const Defect& d : defects)
        if (d.build.character == character && isOpen(d.state) && d.severity >= limit)
            out.push_back({d.id, d.severity, d.facts.what});
    std::stable_sort(out.begin(), out.end(),
                     [](const InTheWay& a, const InTheWay& b) { return a.severity > b.severity; });
    return out;
}

Result<QVector<SignedState::Exception>> acceptedDefects(const ProductionLog& log, const QString& character,
                                                        int limit) {
    const auto defects = log.defects({.character = character});
    if (!defects)
        return Error{defects.error()};
    QVector<SignedState::Exception> out;
    for (const Defect& d : *defects) {
        if (d.state != DefectState::Accepted || d.severity < limit)
            continue;
        const auto history = log.history(d.id);
        if (!history)
            return Error{history.error()};
        QString reason;
        for (const DefectEvent& e : *history)
            if (e.field == QLatin1String("state") && e.value == nameOf(DefectState::Accepted))
                reason = e.reason;
        out.push_back({d.id, d.facts.what, reason, d.severity});
    }
    return out;
}

Result<QVector<SignOff>> signOffs(const ProductionLog& log, const QString& character) {
    QSqlQuery q(log.database());
    if (!run(q,
             QStringLiteral(
                 "SELECT e.id, e.at, e.author, e.field, e.value, b.id, b.character, b.hash, b.path, b.number"
                 " FROM build_event e JOIN build b ON b.id = e.build_id"
                 " WHERE b.character = ? AND e.field IN ('sign-off', 'sign-off taken back') ORDER BY e.id"),
             {text(character)}))
        return log.failure(tr("read who signed off"), q.lastError().text());
    QVector<SignOff> out;
    while (q.next()) {
        const QByteArray value = q.value(4).toString().toUtf8();
        const QDateTime at = QDateTime::fromString(q.value(1).toString(), Qt::ISODateWithMs);
        if (q.value(3).toString() == kTakenBack) {
            const QJsonObject o = QJsonDocument::fromJson(value).object();
            for (SignOff& s : out)
                if (s.event == o.value(QStringLiteral("event")).toInteger() && s.stands()) {
                    s.takenBackBy = q.value(2).toString();
                    s.takenBackAt = at;
                    s.reason = o.value(QStringLiteral("reason")).toString();
                }
            continue;
        }
        SignOff s;
        s.event = q.value(0).toLongLong();
        s.at = at;
        s.author = q.value(2).toString();
        s.state = signedStateFromJson(value);
        s.build = {q.value(5).toLongLong(), q.value(6).toString(), q.value(7).toString(),
                   q.value(8).toString(), q.value(9).toInt()};
        out.push_back(std::move(s));
    }
    std::reverse(out.begin(), out.end());
    return out;
}

Result<std::optional<SignOff>> standingSignOff(const ProductionLog& log, qint64 build) {
    QSqlQuery q(log.database());
    if (!run(q, QStringLiteral("SELECT character, hash FROM build WHERE id = ?"), {build}) || !q.next())
        return std::optional<SignOff>();
    const QString character = q.value(0).toString(), hash = q.value(1).toString();
    q.finish();
    const auto all = signOffs(log, character);
    if (!all)
        return Error{all.error()};
    for (const SignOff& s : *all)
        if (s.build.id == build && s.stands() && s.state.hash == hash)
            return std::optional(s);
    return std::optional<SignOff>();
}

Result<SignOff> signOff(ProductionLog& log, const Build& build, const SignedState& state,
                        const QString& author) {
    const QString doing = QStringLiteral("sign off the build");
    if (state.hash.isEmpty() || state.hash != build.hash)
        return Error{say("This file is not the build it is signed as: its content is another.")};
    if (state.use.trimmed().isEmpty())
        return Error{say("Say what the build is signed off for: “to animation”.")};
    SignOff out;
    const auto done = log.inTransaction(doing, [&]() -> Result<Done> {
        const auto defects = log.defects({.character = build.character});
        if (!defects)
            return Error{defects.error()};
        if (const auto way = defectsInTheWay(*defects, build.character, state.limit); !way.isEmpty())
            return Error{
                tr("%1 at or over severity %2 %3 open, the worst: %4. Accept it with a reason, or have "
                   "it fixed first.")
                    .arg(way.size() == 1 ? tr("One defect") : tr("%n defects", nullptr, int(way.size())))
                    .arg(state.limit)
                    .arg(way.size() == 1 ? tr("is") : tr("are"),
                         tr("%1. %2").arg(way[0].defect).arg(way[0].what))
                    .toStdString()};
        const auto all = signOffs(log, build.character);
        if (!all)
            return Error{all.error()};
        for (const SignOff& s : *all)
            if (s.build.id == build.id && s.stands() && s.state.use == state.use)
                return Error{
                    tr("%1 has signed off this build %2 already.").arg(s.author, s.state.use).toStdString()};
        QSqlQuery q(log.database());
        if (!run(q,
                 QStringLiteral(
                     "INSERT INTO build_event (build_id, at, author, field, value) VALUES (?, ?, ?, ?, ?)"
                     " RETURNING id"),
                 {build.id, nowText(), text(author), kSigned, QString::fromUtf8(signedStateToJson(state))}) ||
            !(out.event = returnedId(q)))
            return log.failure(doing, q.lastError().text());
        return Done{};
    });
    if (!done)
        return Error{done.error()};
    const auto standing = standingSignOff(log, build.id);
    if (!standing)
        return Error{standing.error()};
    return **standing;
}

Result<Done> takeBackSignOff(ProductionLog& log, qint64 event, const QString& reason, const QString& author) {
    const QString doing = QStringLiteral("take back the sign-off");
    if (reason.trimmed().isEmpty())
        return Error{say("Taking back a sign-off needs a reason.")};
    return log.inTransaction(doing, [&]() -> Result<Done> {
        QSqlQuery q(log.database());
        if (!run(
                q,
                QStringLiteral("SELECT b.id, b.character FROM build_event e JOIN build b ON b.id = e.build_id"
                               " WHERE e.id = ? AND e.field = 'sign-off'"),
                {event}) ||
            !q.next())
            return Error{say("There is no such sign-off.")};
        const qint64 build = q.value(0).toLongLong();
        const QString character = q.value(1).toString();
        q.finish();
        const auto all = signOffs(log, character);
        if (!all)
            return Error{all.error()};
        for (const SignOff& s : *all)
            if (s.event == event && !s.stands())
                return Error{tr("%1 has taken it back already.").arg(s.takenBackBy).toStdString()};
        const QByteArray value =
            QJsonDocument(QJsonObject{{QStringLiteral("event"), event}, {QStringLiteral("reason"), reason}})
                .toJson(QJsonDocument::Compact);
        if (!run(q,
                 QStringLiteral(
                     "INSERT INTO build_event (build_id, at, author, field, value) VALUES (?, ?, ?, ?, ?)"),
                 {build, nowText(), text(author), kTakenBack, QString::fromUtf8(value)}))
            return log.failure(doing, q.lastError().text());
        return Done{};
    });
}

} // namespace hobble
