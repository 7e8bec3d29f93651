#include "log/proposal.h"

#include "core/words/say.h"
#include "log/defect_use.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

namespace hobble {

DefectChange proposalEvent(const Defect& defect, const Proposal& p) {
    QJsonObject out{{QStringLiteral("sentence"), p.sentence},
                    {QStringLiteral("steps"), QJsonArray::fromStringList(p.steps)},
                    {QStringLiteral("build"), p.build},
                    {QStringLiteral("gone"), p.gone}};
    if (!p.kind.isEmpty()) {
        out[QStringLiteral("measure")] = p.kind;
        out[QStringLiteral("before")] = p.was;
        out[QStringLiteral("after")] = p.is;
        out[QStringLiteral("limit")] = p.limit;
    }
    out[QStringLiteral("trial")] = QJsonDocument::fromJson(p.trial).object();
    return {defect.id,
            QStringLiteral("proposal"),
            QString::fromUtf8(QJsonDocument(out).toJson(QJsonDocument::Compact)),
            defect.version,
            {},
            false};
}

Result<Proposal> proposalFrom(const QString& value) {
    const QJsonObject in = QJsonDocument::fromJson(value.toUtf8()).object();
    if (!in.contains(QStringLiteral("sentence")) || !in.contains(QStringLiteral("trial")))
        return Error{say("it is no proposal")};
    Proposal out;
    out.sentence = in.value(QStringLiteral("sentence")).toString();
    for (const auto& step : in.value(QStringLiteral("steps")).toArray())
        out.steps << step.toString();
    out.kind = in.value(QStringLiteral("measure")).toString();
    out.was = in.value(QStringLiteral("before")).toDouble();
    out.is = in.value(QStringLiteral("after")).toDouble();
    out.limit = in.value(QStringLiteral("limit")).toDouble();
    out.gone = in.value(QStringLiteral("gone")).toDouble();
    out.build = in.value(QStringLiteral("build")).toInt();
    out.trial = QJsonDocument(in.value(QStringLiteral("trial")).toObject()).toJson();
    return out;
}

Result<QHash<qint64, Proposal>> newestProposals(const ProductionLog& log, const QVector<qint64>& defects) {
    QHash<qint64, Proposal> out;
    for (qint64 id : defects) {
        const auto history = log.history(id);
        if (!history)
            return Error{history.error()};
        for (const DefectEvent& e : *history)
            if (e.field == QLatin1String("proposal"))
                if (const auto p = proposalFrom(e.value))
                    out.insert(id, *p);
    }
    return out;
}

QString valueWords(const DefectEvent& event) {
    if (event.field == QLatin1String("use"))
        if (const auto use = useFrom(event.value))
            return useWords(*use);
    if (event.field != QLatin1String("proposal"))
        return event.value;
    const auto p = proposalFrom(event.value);
    if (!p)
        return event.value;
    return p->steps.isEmpty()
               ? p->sentence
               : QStringLiteral("%1. %2").arg(p->steps.join(QStringLiteral("; ")), p->sentence);
}

} // namespace hobble
