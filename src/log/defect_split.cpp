#include "log/defect_split.h"

#include "log/log_words.h"

#include <QJsonDocument>
#include <QJsonObject>

namespace hobble {

DefectFacts factsOf(const Defect& defect, const SplitPart& part) {
    DefectFacts facts = defect.facts;
    QJsonObject marks = QJsonDocument::fromJson(facts.marks).object();
    if (!part.finding.isEmpty()) {
        const QJsonObject f = QJsonDocument::fromJson(part.finding).object();
        facts.joint = f.value(QStringLiteral("joint")).toString();
        facts.kind = f.value(QStringLiteral("kind")).toString();
        facts.what = f.value(QStringLiteral("what")).toString();
        marks = {{QStringLiteral("place"), f.value(QStringLiteral("place"))},
                 {QStringLiteral("reach"), f.value(QStringLiteral("reach"))}};
    } else {
        QJsonObject parts = marks.value(QStringLiteral("parts")).toObject();
        marks.insert(QStringLiteral("parts"), QJsonObject{{part.part, parts.value(part.part)}});
        facts.part = part.part;
        facts.what = tr("On %1: %2").arg(part.part, facts.what);
    }
    facts.marks = QJsonDocument(marks).toJson(QJsonDocument::Compact);
    return facts;
}

Result<qint64> splitOff(ProductionLog& log, qint64 from, const SplitPart& part, const QString& author,
                        qint64 buildId) {
    const auto defect = log.defect(from);
    if (!defect)
        return Error{defect.error()};
    auto made = log.splitDefect(from, factsOf(*defect, part), defect->severity, author);
    if (!made || part.finding.isEmpty())
        return made;
    const auto said = log.change(
        {{from, QStringLiteral("not the same fault"), QString::fromUtf8(part.finding), 0, {}, false}}, author,
        buildId);
    return said ? made : Result<qint64>(Error{said.error()});
}

} // namespace hobble
