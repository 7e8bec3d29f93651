#include "log/kept_edits.h"

#include "io/file_write.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

#include <algorithm>

namespace hobble {

namespace {

QJsonObject toJson(const DefectFacts& f) {
    return {{QStringLiteral("buildId"), f.buildId},
            {QStringLiteral("joint"), f.joint},
            {QStringLiteral("side"), f.side},
            {QStringLiteral("role"), f.role},
            {QStringLiteral("part"), f.part},
            {QStringLiteral("kind"), f.kind},
            {QStringLiteral("motion"), f.motion},
            {QStringLiteral("motionName"), f.motionName},
            {QStringLiteral("limb"), f.limb},
            {QStringLiteral("onset"), f.onset},
            {QStringLiteral("degrees"), f.degrees},
            {QStringLiteral("value"), f.value},
            {QStringLiteral("limit"), f.limit},
            {QStringLiteral("what"), f.what},
            {QStringLiteral("cause"), f.cause},
            {QStringLiteral("at"), f.at},
            {QStringLiteral("unit"), f.unit},
            {QStringLiteral("pose"), QString::fromUtf8(f.pose)},
            {QStringLiteral("camera"), QString::fromUtf8(f.camera)},
            {QStringLiteral("marks"), QString::fromUtf8(f.marks)},
            {QStringLiteral("picture"), QString::fromLatin1(f.picture.toBase64())}};
}

DefectFacts factsFromJson(const QJsonObject& o) {
    const auto words = [&](const char* key) { return o.value(QLatin1String(key)).toString(); };
    const auto number = [&](const char* key) { return o.value(QLatin1String(key)).toDouble(); };
    DefectFacts f;
    f.buildId = o.value(QStringLiteral("buildId")).toInteger();
    f.joint = words("joint");
    f.side = words("side");
    f.role = words("role");
    f.part = words("part");
    f.kind = words("kind");
    f.motion = words("motion");
    f.motionName = words("motionName");
    f.limb = words("limb");
    f.onset = number("onset");
    f.degrees = number("degrees");
    f.value = number("value");
    f.limit = number("limit");
    f.what = words("what");
    f.cause = words("cause");
    f.at = words("at");
    f.unit = words("unit");
    f.pose = words("pose").toUtf8();
    f.camera = words("camera").toUtf8();
    f.marks = words("marks").toUtf8();
    f.picture = QByteArray::fromBase64(words("picture").toLatin1());
    return f;
}

QJsonObject toJson(const KeptEdit& e, const QString& place) {
    QJsonObject o{{QStringLiteral("log"), place},
                  {QStringLiteral("at"), e.at.toUTC().toString(Qt::ISODateWithMs)},
                  {QStringLiteral("author"), e.author},
                  {QStringLiteral("words"), e.words}};
    if (e.logs) {
        o.insert(QStringLiteral("logs"), toJson(*e.logs));
        o.insert(QStringLiteral("severity"), e.severity);
    } else if (e.team) {
        o.insert(QStringLiteral("team"), QJsonObject{{QStringLiteral("what"), static_cast<int>(e.team->what)},
                                                     {QStringLiteral("id"), e.team->id},
                                                     {QStringLiteral("name"), e.team->name},
                                                     {QStringLiteral("value"), e.team->value}});
    } else {
        if (e.splits)
            o.insert(QStringLiteral("splits"),
                     QJsonObject{{QStringLiteral("finding"), QString::fromUtf8(e.splits->finding)},
                                 {QStringLiteral("part"), e.splits->part}});
        o.insert(QStringLiteral("change"), QJsonObject{{QStringLiteral("defect"), e.change.defect},
                                                       {QStringLiteral("field"), e.change.field},
                                                       {QStringLiteral("value"), e.change.value},
                                                       {QStringLiteral("basedOn"), e.change.basedOn},
                                                       {QStringLiteral("reason"), e.change.reason},
                                                       {QStringLiteral("takesBack"), e.change.takesBack}});
    }
    return o;
}

KeptEdit editFromJson(const QJsonObject& o) {
    KeptEdit e;
    e.at = QDateTime::fromString(o.value(QStringLiteral("at")).toString(), Qt::ISODateWithMs);
    e.author = o.value(QStringLiteral("author")).toString();
    e.words = o.value(QStringLiteral("words")).toString();
    e.severity = o.value(QStringLiteral("severity")).toInt();
    if (o.contains(QStringLiteral("logs")))
        e.logs = factsFromJson(o.value(QStringLiteral("logs")).toObject());
    if (const QJsonObject t = o.value(QStringLiteral("team")).toObject(); !t.isEmpty())
        e.team =
            TeamChange{static_cast<TeamChange::What>(t.value(QStringLiteral("what")).toInt()),
                       t.value(QStringLiteral("id")).toInteger(), t.value(QStringLiteral("name")).toString(),
                       t.value(QStringLiteral("value")).toString()};
    if (const QJsonObject s = o.value(QStringLiteral("splits")).toObject(); !s.isEmpty())
        e.splits = SplitPart{{},
                             0,
                             s.value(QStringLiteral("finding")).toString().toUtf8(),
                             s.value(QStringLiteral("part")).toString()};
    const QJsonObject c = o.value(QStringLiteral("change")).toObject();
    e.change = {c.value(QStringLiteral("defect")).toInteger(), c.value(QStringLiteral("field")).toString(),
                c.value(QStringLiteral("value")).toString(),   c.value(QStringLiteral("basedOn")).toInteger(),
                c.value(QStringLiteral("reason")).toString(),  c.value(QStringLiteral("takesBack")).toBool()};
    return e;
}

QJsonArray readAll(const QString& file) {
    QFile f(file);
    return f.open(QIODevice::ReadOnly) ? QJsonDocument::fromJson(f.readAll()).array() : QJsonArray();
}

} // namespace

KeptEdits::KeptEdits(QString file, QString place) : file_(std::move(file)), place_(std::move(place)) {
    for (const QJsonValue& v : readAll(file_))
        if (v.toObject().value(QStringLiteral("log")).toString() == place_)
            edits_ << editFromJson(v.toObject());
}

Result<Done> KeptEdits::write() const {
    QJsonArray all;
    for (const QJsonValue& v : readAll(file_))
        if (v.toObject().value(QStringLiteral("log")).toString() != place_)
            all.append(v);
    for (const KeptEdit& e : edits_)
        all.append(toJson(e, place_));
    QDir().mkpath(QFileInfo(file_).absolutePath());
    return writeFile(file_.toStdString(), QJsonDocument(all).toJson().toStdString());
}

Result<Done> KeptEdits::add(const KeptEdit& edit) {
    edits_ << edit;
    return write();
}

Result<Done> KeptEdits::remove(int index) {
    if (index >= 0 && index < edits_.size())
        edits_.removeAt(index);
    return write();
}

Result<Done> KeptEdits::clear() {
    edits_.clear();
    return write();
}

namespace {

// Whether it was entered, and only the answer was lost.
Result<bool> isThere(const ProductionLog& log, const DefectFacts& facts, const QDateTime& since) {
    const auto there = log.defects({.marks = true});
    if (!there)
        return Error{there.error()};
    return std::any_of(there->begin(), there->end(), [&](const Defect& d) {
        return d.facts.buildId == facts.buildId && d.facts.what == facts.what &&
               d.facts.marks == facts.marks && d.loggedAt >= since.addSecs(-300);
    });
}

} // namespace

Result<std::optional<Clash>> writeKept(ProductionLog& log, const KeptEdit& e) {
    const auto wrote = [](const auto& result) -> Result<std::optional<Clash>> {
        if (!result)
            return Error{result.error()};
        return std::optional<Clash>();
    };
    if (e.team)
        return wrote(makeTeamChange(log, *e.team, e.author));
    if (e.logs || e.splits) {
        DefectFacts facts;
        if (e.logs) {
            facts = *e.logs;
        } else {
            const auto whole = log.defect(e.change.defect);
            if (!whole)
                return Error{whole.error()};
            facts = factsOf(*whole, *e.splits);
        }
        const auto there = isThere(log, facts, e.at);
        if (!there || *there)
            return wrote(there);
        return wrote(e.logs ? log.addDefect(facts, e.severity, e.author)
                            : splitOff(log, e.change.defect, *e.splits, e.author));
    }
    if (e.change.field == QLatin1String("comment")) {
        const auto said = log.history(e.change.defect);
        if (!said)
            return Error{said.error()};
        for (const DefectEvent& event : *said)
            if (event.field == e.change.field && event.value == e.change.value && event.author == e.author &&
                event.id > e.change.basedOn)
                return std::optional<Clash>();
    }
    const auto written = log.change({e.change}, e.author);
    if (!written)
        return Error{written.error()};
    return written->clashes.isEmpty() ? std::optional<Clash>()
                                      : std::optional<Clash>(written->clashes.front());
}

} // namespace hobble
