#include "story/defect_checks.h"

#include "core/compare/skin_difference.h"
#include "core/deform/deformer.h"
#include "core/words/finding_words.h"
#include "core/words/say.h"
#include "io/run_curves.h"
#include "log/finding_defect.h"
#include "log/trend.h"
#include "story/defect_numbers.h"
#include "story/defect_pose.h"

#include <QCoreApplication>
#include <QJsonArray>
#include <QXmlStreamWriter>

#include <algorithm>

namespace hobble {

namespace {

QString words(const char* text) { return QCoreApplication::translate("hobble", text); }
QString words(const std::string& text) { return QString::fromStdString(text); }

// What the new build's run differs by from an earlier one's, as the log kept it.
Differences sinceRun(const KeptRun& kept, const CheckInput& in) {
    const auto curves = curvesFromJson(kept.curves.toStdString(), in.subject->character->skeleton);
    if (!curves)
        return {};
    auto before = std::make_shared<RunResult>();
    before->limits = in.run->limits;
    for (const Motion& m : in.run->plan.motions)
        if (const auto at = curves->find(m.id); at != curves->end()) {
            before->plan.motions.push_back(m);
            before->motions.push_back(at->second);
        }
    JointPairing same;
    for (int j = 0; j < in.subject->character->skeleton.size(); ++j)
        same.other.push_back(j);
    CompareOptions options;
    options.limits = in.run->limits;
    return compareRuns({ComparedSide{in.subject, before}, ComparedSide{in.subject, in.run}}, same, options);
}

QString whyNot(const CheckedAgain& c, const DefectFacts& f) {
    switch (c.why) {
    case WhyNot::JointGone:
        return words("this build has no joint %1").arg(f.joint);
    case WhyNot::MotionGone:
        return words("the plan has no motion %1, and its pose was not kept").arg(f.motionName);
    case WhyNot::PlaceNotFound:
        return words("there is no skin where it was seen");
    case WhyNot::MeasureUndefined:
        return words("its measure is not defined here");
    case WhyNot::SeenByEye:
        return words("seen by eye: look yourself");
    case WhyNot::None:
        break;
    }
    return words("it was not measured");
}

// How far the skin that was marked lies from where it lay on the build it was seen on, in its pose.
QString skinMovedWords(const DefectFacts& facts, const Build& build, const CheckInput& in) {
    if (!in.shelf)
        return {};
    const auto then = in.shelf->take(build);
    if (!then)
        return {};
    const Subject &a = **then, &b = *in.subject;
    std::vector<Vec3> fileA, fileB;
    deform(*a.character, poseOf(facts, *a.character), in.run->method, fileA);
    deform(*b.character, poseOf(facts, *b.character), in.run->method, fileB);
    const SkinDifference d = skinDifference(a, weldedPositions(a.surface, fileA), b,
                                            weldedPositions(b.surface, fileB), pairSkin(a, b));
    float most = -1;
    std::size_t lost = 0;
    for (const Part& p : a.character->parts)
        for (std::uint32_t v : markedVertices(facts, p.name))
            if (v < p.vertexCount) {
                const float at = d.distance[a.surface.weldOf[p.firstVertex + v]];
                most = std::max(most, at);
                lost += at < 0;
            }
    if (most < 0)
        return lost ? words("; the marked skin is not there any more") : QString();
    return most < 0.0005f
               ? words("; the skin there is the same")
               : words("; the skin there lies up to %1 mm from where it was").arg(1000 * most, 0, 'f', 0);
}

QString sentenceOf(const DefectCheck& check, const CheckInput& in, const Differences* since) {
    const DefectFacts& f = check.defect.facts;
    const CheckedAgain& c = check.told;
    const auto number = [&](double value) { return numberWords(f, value); };
    const QString now = c.now ? number(*c.now) : words("not defined");
    QString out;
    switch (c.verdict) {
    case Verdict::Cured:
        out = words("cured: %1, limit %2, was %3").arg(now, number(c.limit), number(c.before));
        break;
    case Verdict::Better:
    case Verdict::Same:
    case Verdict::Worse:
        out = (c.verdict == Verdict::Better  ? words("better: %1, was %2, limit %3")
               : c.verdict == Verdict::Worse ? words("worse: %1, was %2, limit %3")
                                             : words("the same: %1, was %2, limit %3"))
                  .arg(now, number(c.before), number(c.limit));
        break;
    case Verdict::Moved:
        out = words("moved: %1 here, within its limit, and new at the %2")
                  .arg(now, words(jointWords(*in.subject, c.movedTo)));
        break;
    case Verdict::CannotTell:
        out = words("cannot be told: %1").arg(whyNot(c, f));
        break;
    }
    if (c.elsewhereOnly && c.finding >= 0) {
        const Finding& left = in.run->findings[static_cast<std::size_t>(c.finding)];
        const Motion& motion = in.run->plan.motions[static_cast<std::size_t>(left.motion)];
        out += words("; within its limit in its own pose, but %1 shows it at %2")
                   .arg(words(wordsFor(motion)), words(wordsFor(motion, left.peak)));
    }
    if (c.otherSideLeft)
        out += words("; the other side still shows it");
    if (since && !c.broke.empty() && (c.verdict == Verdict::Cured || c.verdict == Verdict::Better)) {
        const MeasureChange& m = since->measures[c.broke.front()];
        out += words("; %1 got worse with it, in %2")
                   .arg(QString::fromStdString(translated(measureOf(m.kind))),
                        words(wordsFor(in.run->plan.motions[static_cast<std::size_t>(m.motion[1])])));
    }
    if (check.claimed)
        out += words("; %1 took it for fixed").arg(check.defect.assignee);
    return out;
}

// What Intake found is asked for by check, joint and part.
CheckedAgain checkedByIntake(const DefectFacts& f, const CheckInput& in) {
    CheckedAgain out;
    out.before = f.value;
    out.limit = f.limit;
    out.joint = in.subject->character->skeleton.find(f.joint.toStdString());
    if (!f.joint.isEmpty() && out.joint < 0) {
        out.why = WhyNot::JointGone;
        return out;
    }
    out.verdict = Verdict::Cured;
    for (const CheckFinding& c : in.checks)
        if (tellsOf(f, *in.subject, c)) {
            out.now = c.value;
            out.verdict = Verdict::Same;
        }
    return out;
}

QString intakeSentence(const DefectCheck& check, const CheckInput& in) {
    if (check.told.verdict == Verdict::CannotTell)
        return words("cannot be told: %1").arg(whyNot(check.told, check.defect.facts));
    if (check.told.verdict == Verdict::Cured)
        return words("cured: Intake does not find it any more");
    for (const CheckFinding& c : in.checks)
        if (tellsOf(check.defect.facts, *in.subject, c))
            return words("the same: %1").arg(words(c.sentence));
    return {};
}

// Beside what was proposed, in the trouble of its measure; what re-meshing alone changes is as proposed.
std::optional<Beside> besideProposal(const DefectCheck& check, const SeenDefect& seen, const CheckInput& in) {
    const auto p = in.proposals.constFind(check.defect.id);
    if (p == in.proposals.constEnd() || p->kind != QLatin1String(factsOf(seen.mark.kind).word) ||
        !check.told.now)
        return std::nullopt;
    const LimitSteps& limits = in.run->limits.of(seen.mark.kind, seen.role);
    const double then = troubleOf(seen.mark.kind, p->is, limits),
                 now = troubleOf(seen.mark.kind, *check.told.now, limits);
    if (std::abs(now - then) < bandOf(seen.mark.kind, std::max(now, then)) || std::max(now, then) <= 1)
        return Beside::AsProposed;
    return now < then ? Beside::BetterThanProposed : Beside::LessThanProposed;
}

QString besideWords(Beside beside, const Proposal& p, const DefectFacts& facts) {
    switch (beside) {
    case Beside::AsProposed:
        return words("; as was proposed");
    case Beside::BetterThanProposed:
        return words("; better than was proposed (%1)").arg(numberWords(facts, p.is));
    case Beside::LessThanProposed:
        return words("; not as good as was proposed (%1)").arg(numberWords(facts, p.is));
    }
    return {};
}

// As the history and the trend have it.
QString valueOf(const CheckedAgain& told) {
    const QLatin1String verdict(nameOf(told.verdict));
    return told.otherSideLeft ? verdict + kOnOneSide : QString(verdict);
}

int rank(const DefectCheck& c) {
    if (c.cameBack)
        return 0;
    switch (c.told.verdict) {
    case Verdict::Worse:
        return 1;
    case Verdict::Moved:
        return 2;
    case Verdict::CannotTell:
        return 3;
    case Verdict::Same:
        return 4;
    case Verdict::Better:
        return 5;
    case Verdict::Cured:
        return 6;
    }
    return 7;
}

} // namespace

bool isChecked(const Defect& d) { return isOpen(d.state) || d.state == DefectState::Closed; }

std::optional<SeenDefect> seenOf(const DefectFacts& f, const Subject& now, const Plan& plan) {
    const auto kind = std::find_if(kKinds.begin(), kKinds.end(),
                                   [&](Kind k) { return f.kind == QLatin1String(nameOf(k)); });
    if (kind == kKinds.end())
        return std::nullopt;
    SeenDefect out;
    if (const auto mark = markOf(f))
        out.mark = *mark;
    out.mark.joint = f.joint.toStdString();
    out.mark.kind = *kind;
    out.role = roleCalled(f.role.toStdString()).value_or(Role::Unknown);
    out.side = sideCalled(f.side.toStdString()).value_or(Side::Middle);
    out.value = f.value;
    // logged with nothing beyond its limit: no rule had found it
    out.byEye = f.limit != 0 && (faultIsAbove(*kind) ? f.value <= f.limit : f.value >= f.limit);
    const std::string id = presentId(f.motion.toStdString());
    if (const int m = plan.find(id); m >= 0) {
        out.motion = plan.motions[static_cast<std::size_t>(m)];
        out.at = f.degrees;
    } else if (now.character->skeleton.find(f.joint.toStdString()) >= 0 && f.pose.size() > 2) {
        const DefectMotion own = motionOf(f, now);
        out.motion = own.motion;
        out.at = own.at;
    }
    return out;
}

DefectChecks checkDefects(const CheckInput& in, const Progress& progress) {
    DefectChecks out;
    std::map<qint64, Differences> since; // by the build a defect was seen on
    const auto sinceOf = [&](const Build& build) -> const Differences* {
        for (const KeptRun& run : in.runs)
            if (run.build.id == build.id && build.number != in.build) {
                auto at = since.find(build.id);
                if (at == since.end())
                    at = since.emplace(build.id, sinceRun(run, in)).first;
                return &at->second;
            }
        return nullptr;
    };
    for (qsizetype i = 0; i < in.defects.size() && !progress.stopped(); ++i) {
        const Defect& d = in.defects[i];
        progress.at(static_cast<double>(i) / static_cast<double>(in.defects.size()));
        if (!isChecked(d))
            continue;
        DefectCheck check;
        check.defect = d;
        check.wasClosed = d.state == DefectState::Closed;
        if (const auto seen = seenOf(d.facts, *in.subject, in.run->plan)) {
            const Differences* differences = sinceOf(d.build);
            if (!differences && d.build.number && d.build.number != in.build &&
                !out.withoutRun.contains(d.build.number))
                out.withoutRun.push_back(d.build.number);
            check.told = checkAgain(*seen, {*in.subject, *in.run, differences});
            check.cameBack = check.wasClosed && check.told.verdict != Verdict::Cured &&
                             check.told.verdict != Verdict::CannotTell &&
                             check.told.verdict != Verdict::Moved;
            check.claimed = d.state == DefectState::ToBeChecked && check.told.verdict != Verdict::Cured &&
                            check.told.verdict != Verdict::CannotTell;
            check.sentence = sentenceOf(check, in, differences);
            if (check.told.why == WhyNot::SeenByEye)
                check.sentence += skinMovedWords(d.facts, d.build, in);
            if ((check.proposed = besideProposal(check, *seen, in)))
                check.sentence += besideWords(*check.proposed, in.proposals.value(d.id), d.facts);
        } else {
            check.told = checkedByIntake(d.facts, in);
            check.cameBack = check.wasClosed && check.told.verdict == Verdict::Same;
            check.claimed = d.state == DefectState::ToBeChecked && check.told.verdict == Verdict::Same;
            check.sentence = intakeSentence(check, in);
        }
        if (check.cameBack)
            check.sentence.prepend(words("came back, "));
        if (check.wasClosed && !check.cameBack)
            continue; // closed, and so it is
        out.checks.push_back(std::move(check));
    }
    std::stable_sort(out.checks.begin(), out.checks.end(), [](const DefectCheck& a, const DefectCheck& b) {
        return rank(a) != rank(b) ? rank(a) < rank(b) : a.defect.severity > b.defect.severity;
    });
    return out;
}

int DefectChecks::count(Verdict verdict) const {
    return static_cast<int>(std::count_if(checks.begin(), checks.end(), [&](const DefectCheck& c) {
        return !c.wasClosed && c.told.verdict == verdict;
    }));
}

int DefectChecks::cameBack() const {
    return static_cast<int>(
        std::count_if(checks.begin(), checks.end(), [](const DefectCheck& c) { return c.cameBack; }));
}

QString DefectChecks::sentence() const {
    const int open = static_cast<int>(checks.size()) - cameBack();
    if (checks.isEmpty())
        return words("No defect is open to be checked.");
    QStringList parts;
    for (const auto& [verdict, text] :
         {std::pair(Verdict::Cured, words("%1 cured")), std::pair(Verdict::Better, words("%1 better")),
          std::pair(Verdict::Same, words("%1 the same")), std::pair(Verdict::Worse, words("%1 worse")),
          std::pair(Verdict::Moved, words("%1 moved")),
          std::pair(Verdict::CannotTell, words("%1 cannot be told"))})
        if (const int n = count(verdict))
            parts << text.arg(n);
    QString out =
        (open == 1 ? words("1 open defect checked: %1") : words("%1 open defects checked: %2").arg(open))
            .arg(parts.join(QStringLiteral(", ")));
    if (open == 0)
        out = words("no defect is open");
    if (const int back = cameBack())
        out += back == 1 ? words("; 1 that was closed came back")
                         : words("; %1 that were closed came back").arg(back);
    out[0] = out[0].toUpper();
    out += QLatin1Char('.');
    if (withoutRun.isEmpty())
        return out;
    QStringList builds;
    for (int number : withoutRun)
        builds << QString::number(number);
    return out + QLatin1Char(' ') +
           (builds.size() == 1 ? words("The log keeps no run of build %1: what moved since, or got worse "
                                       "with a cure, is not told.")
                               : words("The log keeps no run of builds %1: what moved since, or got worse "
                                       "with a cure, is not told."))
               .arg(builds.join(QStringLiteral(", ")));
}

DefectChange verdictEvent(const DefectCheck& c) {
    return {c.defect.id, QStringLiteral("verdict"), valueOf(c.told), c.defect.version, c.sentence, false};
}

Result<int> keepVerdicts(ProductionLog& log, const DefectChecks& checks, const QString& author, qint64 build,
                         int closeUpTo) {
    const auto builds = log.builds({});
    if (!builds)
        return Error{builds.error()};
    int number = 0;
    for (const BuildState& b : *builds)
        if (b.build.id == build)
            number = b.build.number;
    QVector<DefectChange> changes;
    for (const DefectCheck& c : checks.checks) {
        const auto history = log.history(c.defect.id);
        if (!history)
            return Error{history.error()};
        const DefectEvent* last = nullptr;
        for (const DefectEvent& e : *history)
            if (e.field == QLatin1String("verdict") && e.build == number)
                last = &e;
        if (!last || last->value != valueOf(c.told) || last->reason != c.sentence)
            changes.push_back(verdictEvent(c));
    }
    int events = 0;
    if (!changes.isEmpty()) {
        const auto written = log.change(changes, author, build);
        if (!written)
            return Error{written.error()};
        events = static_cast<int>(changes.size() - written->clashes.size());
    }
    for (const DefectCheck& c : checks.checks) {
        if (!c.cured() || c.defect.severity > closeUpTo || !isOpen(c.defect.state))
            continue;
        for (DefectState state : wayTo(c.defect.state, DefectState::Closed)) {
            const auto now = log.defects({.id = c.defect.id}); // its newest version
            if (!now || now->isEmpty())
                break;
            const auto moved = log.change({{c.defect.id, QStringLiteral("state"), nameOf(state),
                                            now->front().version, c.sentence, false}},
                                          author, build);
            if (!moved)
                return Error{moved.error()};
            ++events;
        }
    }
    return events;
}

Result<DefectChecks> checkLogged(ProductionLog& log, const Build& build, CheckInput in, const QString& author,
                                 int closeUpTo) {
    in.build = build.number;
    const auto listed = log.defects({.character = build.character});
    const auto runs = log.newestRuns(build.character);
    if (!listed || !runs)
        return Error{!listed ? listed.error() : runs.error()};
    in.runs = *runs;
    QVector<qint64> asked;
    for (const Defect& d : *listed)
        if (isChecked(d)) {
            const auto whole = log.defect(d.id);
            if (!whole)
                return Error{whole.error()};
            in.defects.push_back(*whole);
            asked << d.id;
        }
    auto proposals = newestProposals(log, asked);
    if (!proposals)
        return Error{proposals.error()};
    in.proposals = std::move(*proposals);
    BuildShelf shelf;
    if (!in.shelf)
        in.shelf = &shelf;
    DefectChecks out = checkDefects(in);
    if (!log.readOnly())
        if (const auto kept = keepVerdicts(log, out, author, build.id, closeUpTo); !kept)
            return Error{kept.error()};
    return out;
}

QJsonObject checksToJson(const DefectChecks& check, const Subject& s, int build) {
    QJsonArray all;
    for (const DefectCheck& c : check.checks) {
        QJsonObject o{{QStringLiteral("defect"), c.defect.id},
                      {QStringLiteral("verdict"), QLatin1String(nameOf(c.told.verdict))},
                      {QStringLiteral("sentence"), c.sentence},
                      {QStringLiteral("joint"), c.defect.facts.joint},
                      {QStringLiteral("kind"), c.defect.facts.kind},
                      {QStringLiteral("motion"), c.defect.facts.motion},
                      {QStringLiteral("severity"), c.defect.severity},
                      {QStringLiteral("state"), nameOf(c.defect.state)},
                      {QStringLiteral("cameBack"), c.cameBack},
                      {QStringLiteral("claimedFixed"), c.claimed},
                      {QStringLiteral("otherSideLeft"), c.told.otherSideLeft},
                      {QStringLiteral("before"), c.told.before},
                      {QStringLiteral("limit"), c.told.limit},
                      {QStringLiteral("now"), c.told.now ? QJsonValue(*c.told.now) : QJsonValue()}};
        if (c.proposed)
            o.insert(QStringLiteral("besideProposal"),
                     *c.proposed == Beside::AsProposed           ? QStringLiteral("as proposed")
                     : *c.proposed == Beside::BetterThanProposed ? QStringLiteral("better")
                                                                 : QStringLiteral("less"));
        if (c.told.movedTo >= 0)
            o.insert(QStringLiteral("movedTo"),
                     words(s.character->skeleton.name[static_cast<std::size_t>(c.told.movedTo)]));
        all.append(o);
    }
    QJsonArray withoutRun;
    for (int number : check.withoutRun)
        withoutRun.append(number);
    return {{QStringLiteral("format"), QStringLiteral("hobble-check")},
            {QStringLiteral("version"), 1},
            {QStringLiteral("character"), words(s.character->name)},
            {QStringLiteral("hash"), words(s.character->hash)},
            {QStringLiteral("build"), build},
            {QStringLiteral("sentence"), check.sentence()},
            {QStringLiteral("withoutRun"), withoutRun},
            {QStringLiteral("defects"), all}};
}

QByteArray checksToJunit(const DefectChecks& check, const Subject& s) {
    QByteArray out;
    QXmlStreamWriter xml(&out);
    xml.setAutoFormatting(true);
    xml.writeStartDocument();
    int failed = 0, skipped = 0;
    for (const DefectCheck& c : check.checks) {
        skipped += c.told.verdict == Verdict::CannotTell;
        failed += c.told.verdict != Verdict::CannotTell && c.told.verdict != Verdict::Cured;
    }
    xml.writeStartElement(QStringLiteral("testsuites"));
    xml.writeStartElement(QStringLiteral("testsuite"));
    xml.writeAttribute(QStringLiteral("name"), words(s.character->name));
    xml.writeAttribute(QStringLiteral("tests"), QString::number(check.checks.size()));
    xml.writeAttribute(QStringLiteral("failures"), QString::number(failed));
    xml.writeAttribute(QStringLiteral("errors"), QStringLiteral("0"));
    xml.writeAttribute(QStringLiteral("skipped"), QString::number(skipped));
    for (const DefectCheck& c : check.checks) {
        xml.writeStartElement(QStringLiteral("testcase"));
        xml.writeAttribute(QStringLiteral("classname"), c.defect.facts.joint);
        xml.writeAttribute(QStringLiteral("name"),
                           QStringLiteral("%1. %2").arg(c.defect.id).arg(c.defect.facts.what));
        xml.writeAttribute(QStringLiteral("time"), QStringLiteral("0"));
        if (c.told.verdict == Verdict::CannotTell) {
            xml.writeEmptyElement(QStringLiteral("skipped"));
            xml.writeAttribute(QStringLiteral("message"), c.sentence);
        } else if (c.told.verdict != Verdict::Cured) {
            xml.writeEmptyElement(QStringLiteral("failure"));
            xml.writeAttribute(QStringLiteral("message"), c.sentence);
            xml.writeAttribute(QStringLiteral("type"), QLatin1String(nameOf(c.told.verdict)));
        }
        xml.writeEndElement();
    }
    xml.writeEndDocument();
    return out;
}

} // namespace hobble
