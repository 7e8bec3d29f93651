#include "log/finding_defect.h"

#include "core/judge/measure_unit.h"
#include "core/pose/coverage.h"
#include "core/words/cause_words.h"
#include "core/words/finding_words.h"
#include "io/run_curves.h"
#include "io/run_json.h"

#include <algorithm>

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

namespace hobble {

namespace {
// The part a check is about, the first where it is about several; empty where there is none.
QString partOf(const Subject& s, const CheckFinding& f) {
    const int part = f.part >= 0 ? f.part : f.vertices.empty() ? -1 : f.vertices[0].first;
    return part >= 0 ? QString::fromStdString(s.character->parts[part].name) : QStringLiteral("");
}

QString jointOf(const Subject& s, const CheckFinding& f) {
    return f.joint >= 0 ? QString::fromStdString(s.character->skeleton.name[f.joint]) : QStringLiteral("");
}

QByteArray compact(const QJsonObject& o) { return QJsonDocument(o).toJson(QJsonDocument::Compact); }
} // namespace

QByteArray keptPose(const Subject& s, const Motion& motion, double at) {
    QJsonObject turns; // joint → local rotation, so that the pose outlives the plan
    const Pose pose = poseAt(s.character->skeleton, motion, at);
    for (const JointTurn& t : motion.turns) {
        const Quat& q = pose.turn[t.joint];
        turns.insert(QString::fromStdString(s.character->skeleton.name[t.joint]),
                     QJsonArray{q.x(), q.y(), q.z(), q.w()});
    }
    QJsonArray targets;
    for (const TargetWeight& t : pose.targets) {
        const Part& part = s.character->parts[static_cast<std::size_t>(t.part)];
        targets.append(
            QJsonObject{{QStringLiteral("part"), QString::fromStdString(part.name)},
                        {QStringLiteral("target"),
                         QString::fromStdString(part.targets[static_cast<std::size_t>(t.target)].name)},
                        {QStringLiteral("weight"), t.weight}});
    }
    QJsonObject kept{{QStringLiteral("motion"), QString::fromStdString(motion.id)},
                     {QStringLiteral("degrees"), at},
                     {QStringLiteral("at"), QString::fromStdString(wordsFor(motion, at))},
                     {QStringLiteral("turns"), turns}};
    if (!targets.isEmpty())
        kept.insert(QStringLiteral("targets"), targets);
    return compact(kept);
}

DefectFacts factsOf(const Subject& s, const Plan& plan, const Finding& f) {
    const Motion& motion = plan.motions[f.motion];
    DefectFacts d;
    d.joint = QString::fromStdString(s.character->skeleton.name[f.joint]);
    d.side = QLatin1String(nameOf(f.side));
    d.role = QLatin1String(nameOf(f.role));
    d.part = f.marks.empty() ? QString(QLatin1String(""))
                             : QString::fromStdString(s.character->parts[f.marks[0].part].name);
    d.kind = QLatin1String(nameOf(f.kind));
    d.motion = QString::fromStdString(motion.id);
    d.motionName = QString::fromStdString(motion.name);
    d.limb = QLatin1String(nameOf(motion.limb));
    d.onset = f.onset;
    d.degrees = f.peak;
    d.value = f.peakValue;
    d.limit = f.limit;
    d.what = QString::fromStdString(sentence(s, plan, f));
    if (const Cause* c = f.headline())
        d.cause = QLatin1String(factsOf(c->kind).word) + QStringLiteral(": ") +
                  QString::fromStdString(sentenceOf(*s.character, *c));
    d.pose = keptPose(s, motion, f.peak);
    d.at = QString::fromStdString(wordsFor(motion, f.peak));
    QJsonObject parts;
    for (const PartMarks& m : f.marks) {
        QJsonArray vertices;
        for (std::uint32_t v : m.vertices)
            vertices.append(static_cast<qint64>(v));
        parts.insert(QString::fromStdString(s.character->parts[m.part].name), vertices);
    }
    const FindingMark mark = markOf(s, f);
    d.marks = compact({{QStringLiteral("parts"), parts},
                       {QStringLiteral("place"), QJsonArray{mark.place.x(), mark.place.y(), mark.place.z()}},
                       {QStringLiteral("reach"), mark.reach}});
    d.camera = "{}";
    const MeasureUnit unit = unitOf(f.kind, s, f.joint);
    d.unit = QStringLiteral("%1|%2|%3")
                 .arg(unit.factor)
                 .arg(unit.decimals)
                 .arg(QString::fromStdString(unit.suffix));
    return d;
}

DefectFacts factsOf(const Subject& s, const Plan& plan, const std::vector<Finding>& findings,
                    const Fault& fault) {
    DefectFacts d = factsOf(s, plan, findings[static_cast<std::size_t>(fault.signs.front())]);
    d.what = QString::fromStdString(sentence(s, plan, findings, fault));
    d.cause.clear();
    if (const Cause* c = fault.headline())
        d.cause = QLatin1String(factsOf(c->kind).word) + QStringLiteral(": ") +
                  QString::fromStdString(sentenceOf(*s.character, *c));
    return d;
}

DefectFacts factsOf(const Subject& s, const CheckFinding& f) {
    const Character& c = *s.character;
    DefectFacts d;
    d.joint = jointOf(s, f);
    if (f.joint >= 0) {
        d.side = QLatin1String(nameOf(s.roles[f.joint].side));
        d.role = QLatin1String(nameOf(s.roles[f.joint].role));
    } else {
        d.side = d.role = QLatin1String("");
    }
    d.part = partOf(s, f);
    d.kind = QString::fromStdString(f.check);
    d.motion = d.motionName = QLatin1String("");
    d.limb = QLatin1String("Intake");
    d.value = f.value;
    d.what = QString::fromStdString(f.sentence);
    d.cause = QString::fromStdString(f.advice);
    d.pose = "{}";
    d.camera = "{}";
    QJsonObject parts;
    for (const auto& [p, vertices] : f.vertices) {
        QJsonArray list;
        for (std::uint32_t v : vertices)
            list.append(static_cast<qint64>(v));
        parts.insert(QString::fromStdString(c.parts[p].name), list);
    }
    d.marks = compact({{QStringLiteral("parts"), parts}});
    return d;
}

bool foundByIntake(const DefectFacts& d) {
    const auto& all = intakeChecks();
    return d.motionName.isEmpty() && std::any_of(all.begin(), all.end(), [&](const Check& check) {
               return d.kind == QLatin1String(check.name);
           });
}

bool tellsOf(const DefectFacts& d, const Subject& s, const CheckFinding& f) {
    return d.kind == QString::fromStdString(f.check) && d.joint == jointOf(s, f) && d.part == partOf(s, f);
}

QByteArray inspectionToJson(const Subject& s, const CheckFindings& findings) {
    QJsonArray out;
    for (const CheckFinding& f : findings) {
        qint64 vertices = 0;
        for (const auto& [part, list] : f.vertices)
            vertices += static_cast<qint64>(list.size());
        out.append(QJsonObject{{QStringLiteral("check"), QString::fromStdString(f.check)},
                               {QStringLiteral("severity"), f.severity},
                               {QStringLiteral("joint"), jointOf(s, f)},
                               {QStringLiteral("value"), f.value},
                               {QStringLiteral("vertices"), vertices},
                               {QStringLiteral("sentence"), QString::fromStdString(f.sentence)}});
    }
    return QJsonDocument(out).toJson(QJsonDocument::Compact);
}

static std::optional<FindingMark> markFrom(const QString& joint, const QString& kindName,
                                           const QJsonObject& marks) {
    const QJsonArray place = marks.value(QStringLiteral("place")).toArray();
    const std::string name = kindName.toStdString();
    const auto kind = std::find_if(kKinds.begin(), kKinds.end(), [&](Kind k) { return name == nameOf(k); });
    if (place.size() != 3 || kind == kKinds.end())
        return std::nullopt;
    return FindingMark{joint.toStdString(), *kind,
                       Vec3d(place[0].toDouble(), place[1].toDouble(), place[2].toDouble()),
                       marks.value(QStringLiteral("reach")).toDouble()};
}

std::optional<FindingMark> markOf(const DefectFacts& d) {
    return markFrom(d.joint, d.kind, QJsonDocument::fromJson(d.marks).object());
}

QByteArray mergedToJson(const FindingMark& mark, const QString& words) {
    return compact({{QStringLiteral("joint"), QString::fromStdString(mark.joint)},
                    {QStringLiteral("kind"), QLatin1String(nameOf(mark.kind))},
                    {QStringLiteral("place"), QJsonArray{mark.place.x(), mark.place.y(), mark.place.z()}},
                    {QStringLiteral("reach"), mark.reach},
                    {QStringLiteral("what"), words}});
}

std::optional<FindingMark> mergedFromJson(const QByteArray& json) {
    const QJsonObject o = QJsonDocument::fromJson(json).object();
    return markFrom(o.value(QStringLiteral("joint")).toString(), o.value(QStringLiteral("kind")).toString(),
                    o);
}

RunSummary summaryOf(const Subject& s, const RunResult& run, qint64 buildId) {
    std::array<int, 5> faults{};
    for (const Fault& f : run.faults)
        ++faults[static_cast<std::size_t>(std::clamp(f.severity, 1, 4))];
    return {buildId,
            QString::fromStdString(run.plan.name),
            QLatin1String(nameOf(run.method)),
            static_cast<int>(run.plan.stepCount()),
            QByteArray::fromStdString(findingsToJson(s, run)),
            QByteArray::fromStdString(curvesToJson(s, run)),
            coverageOf(*s.character, s.roles, run.plan).share,
            faults,
            {}};
}

RunEntry entryOf(const Subject& s, const RunResult& run, const QString& key) {
    const Character& c = *s.character;
    RunEntry out{QString::fromStdString(c.name), QString::fromStdString(c.hash),
                 QString::fromStdString(c.source), QString::fromStdString(c.formerHash),
                 summaryOf(s, run, 0)};
    out.run.key = key;
    return out;
}

} // namespace hobble
