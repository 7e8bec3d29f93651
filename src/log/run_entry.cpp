#include "log/run_entry.h"
#include "core/words/say.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

namespace hobble {

namespace {

QJsonValue nested(const QByteArray& json) {
    const QJsonDocument document = QJsonDocument::fromJson(json);
    return document.isArray() ? QJsonValue(document.array()) : QJsonValue(document.object());
}

QByteArray taken(const QJsonValue& value) {
    return (value.isArray() ? QJsonDocument(value.toArray()) : QJsonDocument(value.toObject()))
        .toJson(QJsonDocument::Compact);
}

} // namespace

QByteArray toJson(const RunEntry& e) {
    QJsonArray faults;
    for (std::size_t s = 1; s <= 4; ++s)
        faults.append(e.run.faults[s]);
    return QJsonDocument(QJsonObject{{QStringLiteral("format"), QStringLiteral("hobble-log-entry")},
                                     {QStringLiteral("character"), e.character},
                                     {QStringLiteral("build"), e.hash},
                                     {QStringLiteral("formerly"), e.formerHash},
                                     {QStringLiteral("path"), e.path},
                                     {QStringLiteral("key"), e.run.key},
                                     {QStringLiteral("plan"), e.run.plan},
                                     {QStringLiteral("method"), e.run.method},
                                     {QStringLiteral("poses"), e.run.poses},
                                     {QStringLiteral("coverage"), e.run.coverage},
                                     {QStringLiteral("faults"), faults},
                                     {QStringLiteral("findings"), nested(e.run.findings)},
                                     {QStringLiteral("curves"), nested(e.run.curves)}})
        .toJson(QJsonDocument::Compact);
}

Result<RunEntry> runEntryFromJson(const QByteArray& json) {
    const QJsonObject in = QJsonDocument::fromJson(json).object();
    const auto word = [&](const char* key) { return in.value(QLatin1String(key)).toString(); };
    RunEntry out;
    out.character = word("character");
    out.hash = word("build");
    out.formerHash = word("formerly");
    out.path = word("path");
    if (word("format") != QLatin1String("hobble-log-entry") || out.character.isEmpty() || out.hash.isEmpty())
        return Error{say("it is no entry of a log, or was not written whole")};
    out.run.key = word("key");
    out.run.plan = word("plan");
    out.run.method = word("method");
    out.run.poses = in.value(QStringLiteral("poses")).toInt();
    out.run.coverage = in.value(QStringLiteral("coverage")).toDouble(-1);
    const QJsonArray faults = in.value(QStringLiteral("faults")).toArray();
    for (int s = 1; s <= 4; ++s)
        out.run.faults[static_cast<std::size_t>(s)] = faults.at(s - 1).toInt();
    out.run.findings = taken(in.value(QStringLiteral("findings")));
    out.run.curves = taken(in.value(QStringLiteral("curves")));
    return out;
}

Result<Done> enterRun(ProductionLog& log, const RunEntry& entry) {
    const auto build = log.build(entry.character, entry.hash, entry.path, entry.formerHash);
    if (!build)
        return Error{build.error()};
    RunSummary run = entry.run;
    run.buildId = build->id;
    const auto entered = log.addRun(run);
    if (!entered)
        return Error{entered.error()};
    return Done{};
}

} // namespace hobble
