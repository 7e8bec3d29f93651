// What the session does with the production log: defects, roster, builds.
#include "app/session/log_command.h"
#include "app/session/session.h"
#include "core/judge/by_eye.h"
#include "io/run_curves.h"
#include "io/run_json.h"
#include "log/defect_csv.h"
#include "log/defect_json.h"
#include "log/finding_defect.h"

#include <QFile>
#include <QFileInfo>
#include <QJsonDocument>
#include <QJsonObject>
#include <QSettings>
#include <QStandardPaths>

#include <algorithm>

namespace hobble {

namespace {

Result<QString> takeIn(const QString& path, const QString& place, const QString& author) {
    auto log = ProductionLog::open(place);
    if (!log)
        return Error{log.error()};
    if (path.endsWith(QLatin1String(".json"), Qt::CaseInsensitive)) {
        const auto added = readLogJson(path, **log);
        if (!added)
            return Error{added.error()};
        return Session::tr("%1 defects came in, %2 were known already.")
            .arg(added->defects)
            .arg(added->known);
    }
    const auto taken = takeCsv(path, **log, author);
    if (!taken)
        return Error{taken.error()};
    QString words =
        Session::tr("%1 changes and %2 new defects came in.").arg(taken->changes).arg(taken->fresh);
    if (!taken->problems.isEmpty())
        words += Session::tr(" Not taken: %1").arg(taken->problems.mid(0, 3).join(QLatin1Char(' ')));
    return words;
}

} // namespace

QString Session::author() const {
    const QString fallback = qEnvironmentVariable("USER", QStringLiteral("lead"));
    return QSettings().value(QStringLiteral("author"), fallback).toString();
}

void Session::setAuthor(const QString& name) {
    QSettings().setValue(QStringLiteral("author"), name.simplified());
    emit logChanged();
}

QString Session::keptPath() {
    return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) +
           QStringLiteral("/kept-edits.json");
}

void Session::watchLog() {
    connect(&link_, &LogLink::opened, this, &Session::logOpened);
    connect(&link_, &LogLink::changedByOthers, this, &Session::refreshLog);
    connect(&link_, &LogLink::late, this, [this] {
        refreshLog();
        emit logStateChanged();
    });
    connect(&link_, &LogLink::lost, this, [this] {
        reading_ = false;
        emit logStateChanged();
    });
    connect(&link_, &LogLink::cameBack, this, [this] {
        refreshLog();
        emit logStateChanged();
        emit told(keptEdits().isEmpty()
                      ? tr("The log answers again.")
                      : tr("The log answers again. %1 changes were kept; look at them on the Log page.")
                            .arg(keptEdits().size()));
    });
}

void Session::openLog(const QString& place) {
    undo_.clear();
    if (const auto error = link_.open(place))
        return logOpened(*error);
    emit logStateChanged();
}

void Session::logOpened(const QString& error) {
    if (!error.isEmpty()) {
        fail(error.toStdString());
        return emit logStateChanged();
    }
    if (!link_.canRead())
        return;
    list_.setDefects({});
    newestEvent_ = 0;
    marks_.clear();
    people_.clear();
    merged_.clear();
    kept_ = std::make_unique<KeptEdits>(keptPath(), link_.place());
    if (link_.state() == LogState::ReadOnly)
        emit failed(tr("The log %1 is read-only: it can be looked at, and nothing will be written.")
                        .arg(link_.place()));
    enterBuild();
    refreshLog();
    emit intakeChanged();
    emit logStateChanged();
}

void Session::enterBuild() {
    build_ = {};
    builds_.clear();
    marks_.clear();
    if (!link_.canRead() || !subject_)
        return;
    const Character& c = *subject_->character;
    auto build = link_.ask([name = QString::fromStdString(c.name), hash = QString::fromStdString(c.hash),
                            path = QFileInfo(QString::fromStdString(c.source)).absoluteFilePath()](
                               ProductionLog& log) { return log.build(name, hash, path); });
    if (build)
        build_ = *build;
    else if (link_.state() != LogState::ReadOnly) // told once the character is there
        QMetaObject::invokeMethod(
            this, [this, message = build.error()] { fail(message); }, Qt::QueuedConnection);
    keepInspection();
    loadEarlier();
    readMarks();
}

void Session::loadEarlier() {
    earlier_.reset();
    if (!link_.canRead() || !subject_ || !build_.id)
        return;
    const auto kept = link_.ask([id = build_.id](ProductionLog& log) { return log.runBefore(id); });
    if (!kept)
        return fail(kept.error());
    if (!*kept)
        return;
    auto curves = curvesFromJson((*kept)->curves.toStdString(), subject_->character->skeleton);
    if (!curves)
        return fail(QStringLiteral("The run of build %1 in the log cannot be laid beside this one: %2.")
                        .arg((*kept)->build.number)
                        .arg(QString::fromStdString(curves.error()))
                        .toStdString());
    earlier_ = Earlier{(*kept)->build.number, std::move(*curves)};
}

struct Session::News {
    bool whole = false; // not only what changed
    DefectList list;    // the whole, made where nobody waits
    QVector<Defect> defects;
    QVector<Person> people;
    QVector<std::pair<qint64, QByteArray>> merged;
    QHash<qint64, QByteArray> marks;
    qint64 newest = 0;
};

Result<Session::News> Session::newsOf(const ProductionLog& log, qint64 after, const QString& character) {
    News out;
    out.whole = after == 0;
    const auto newest = log.newestEvent();
    if (!newest)
        return Error{newest.error()};
    out.newest = *newest;
    auto defects = log.defects({.changedAfter = after});
    auto people = log.people();
    auto merged = log.mergedFindings();
    if (!defects || !people || !merged)
        return Error{!defects ? defects.error() : !people ? people.error() : merged.error()};
    if (out.whole)
        out.list.setDefects(std::move(*defects));
    else
        out.defects = std::move(*defects);
    out.people = std::move(*people);
    out.merged = std::move(*merged);
    if (!character.isEmpty()) {
        const auto marked = log.defects({.character = character, .changedAfter = after, .marks = true});
        if (!marked)
            return Error{marked.error()};
        for (const Defect& d : *marked)
            out.marks[d.id] = d.facts.marks;
    }
    return out;
}

void Session::takeNews(News news) {
    reading_ = false;
    if (news.whole)
        list_ = std::move(news.list);
    else
        list_.update(news.defects);
    for (auto m = news.marks.begin(); m != news.marks.end(); ++m)
        marks_[m.key()] = m.value();
    newestEvent_ = std::max(newestEvent_, news.newest);
    people_ = std::move(news.people);
    merged_ = std::move(news.merged);
    logReadAt_ = QDateTime::currentDateTime();
    matchDefects();
    emit logChanged();
}

void Session::refreshLog() {
    if (!link_.canRead())
        return;
    if (built_) // other leads' versions of the plan
        refreshPlanVersions();
    constexpr qint64 many = 3000; // defects that take longer to read than the window should wait
    const QString character = subject_ ? QString::fromStdString(subject_->character->name) : QString();
    if (newestEvent_ == 0) {
        const auto newest = link_.ask([](ProductionLog& log) { return log.newestEvent(); });
        if (!newest)
            return fail(newest.error());
        if (*newest > many) {
            if (!std::exchange(reading_, true))
                link_.tell([character](ProductionLog& log) { return newsOf(log, 0, character); },
                           [this](const Result<News>& news) {
                               if (!news) {
                                   reading_ = false;
                                   return fail(news.error());
                               }
                               takeNews(*news);
                               readMarks();
                           });
            return;
        }
    }
    auto news = link_.ask(
        [after = newestEvent_, character](ProductionLog& log) { return newsOf(log, after, character); });
    if (!news)
        return fail(news.error());
    const bool whole = news->whole;
    takeNews(std::move(*news));
    if (whole)
        readMarks();
}

// Where the defects of this character were seen, to find them again.
void Session::readMarks() {
    if (!link_.canRead() || !subject_)
        return;
    const auto marked =
        link_.ask([name = QString::fromStdString(subject_->character->name)](ProductionLog& log) {
            return log.defects({.character = name, .marks = true});
        });
    if (!marked)
        return fail(marked.error());
    marks_.clear();
    for (const Defect& d : *marked)
        marks_[d.id] = d.facts.marks;
    matchDefects();
}

int Session::openDefects() const {
    return static_cast<int>(
        std::count_if(defects().begin(), defects().end(), [](const Defect& d) { return isOpen(d.state); }));
}

qint64 Session::defectOf(int finding) const {
    return finding >= 0 && finding < static_cast<int>(defectOf_.size())
               ? defectOf_[static_cast<std::size_t>(finding)]
               : 0;
}

void Session::matchDefects() {
    defectOf_.clear();
    if (!subject_ || !run_)
        return;
    std::vector<FindingMark> now, logged;
    for (const Finding& f : run_->findings)
        now.push_back(markOf(*subject_, f));
    std::vector<qint64> ids;
    const QString character = QString::fromStdString(subject_->character->name);
    const auto add = [&](const Defect* d, const std::optional<FindingMark>& mark) {
        if (!d || !mark || d->build.character != character || d->state == DefectState::Withdrawn)
            return;
        logged.push_back(*mark);
        ids.push_back(d->state == DefectState::Duplicate && d->duplicateOf ? d->duplicateOf : d->id);
    };
    for (auto m = marks_.begin(); m != marks_.end(); ++m)
        if (const Defect* d = defectCalled(m.key())) {
            DefectFacts facts = d->facts;
            facts.marks = m.value();
            add(d, markOf(facts));
        }
    for (const auto& [id, json] : merged_)
        add(defectCalled(id), mergedFromJson(json));
    for (int match : matchFindings(now, logged))
        defectOf_.push_back(match < 0 ? 0 : ids[static_cast<std::size_t>(match)]);
}

DefectFacts Session::factsToLog(const Finding& f, const QByteArray& camera, const QByteArray& picture) const {
    DefectFacts facts = factsOf(*subject_, plan_, f);
    facts.buildId = build_.id;
    facts.camera = camera;
    facts.picture = picture;
    return facts;
}

// Whether a defect can be entered; says why not.
bool Session::canLog() {
    if (takesChanges())
        return true;
    fail(link_.state() == LogState::ReadOnly ? "The log is read-only; nothing can be written to it."
                                             : "There is no log open to write the defect to.");
    return false;
}

// The new defect's id, or 0 when it could not be entered.
qint64 Session::enterDefect(const DefectFacts& facts, int severity) {
    auto id = link_.ask(
        [facts, severity, by = author()](ProductionLog& log) { return log.addDefect(facts, severity, by); });
    if (id) {
        refreshLog();
        return *id;
    }
    if (link_.state() == LogState::Lost && kept_) {
        KeptEdit edit{
            QDateTime::currentDateTimeUtc(), author(), tr("log: %1").arg(facts.what), facts, severity, {}};
        if (auto held = kept_->add(edit); !held)
            fail(held.error());
        else
            emit told(tr("The log does not answer. The defect is kept, and will be offered once it does."));
        emit logStateChanged();
        return 0;
    }
    fail(id.error());
    return 0;
}

void Session::pushLogged(qint64 id) {
    const Defect* d = defectCalled(id);
    auto version = std::make_shared<qint64>(d ? d->version : 0);
    const auto to = [this, id, version](DefectState state) {
        QVector<qint64> versions;
        const bool done = write(
            {{id, QStringLiteral("state"), nameOf(state), *version, tr("taken back"), true}}, &versions);
        if (done && !versions.isEmpty())
            *version = versions.front();
        return done;
    };
    undo_.push(new LogCommand(
        tr("log defect %1").arg(id), [to] { return to(DefectState::Logged); },
        [to] { return to(DefectState::Withdrawn); }));
    emit defectLogged(id);
}

const Finding* Session::findingAt(int index) const {
    return run_ && index >= 0 && index < static_cast<int>(run_->findings.size())
               ? &run_->findings[static_cast<std::size_t>(index)]
               : nullptr;
}

void Session::logDefect(int index, const QByteArray& camera, const QByteArray& picture) {
    if (!canLog())
        return;
    const Finding* f = findingAt(index);
    if (!f)
        return;
    if (const qint64 known = defectOf(index))
        return void(emit defectLogged(known));
    if (const qint64 id = enterDefect(factsToLog(*f, camera, picture), f->severity))
        pushLogged(id);
}

std::optional<Kind> Session::kindAt(const std::vector<std::uint32_t>& triangles) const {
    const auto d = detail();
    if (!d || motion_ < 0 || triangles.empty())
        return std::nullopt;
    return worstKindAt(*subject_, plan_.motions[static_cast<std::size_t>(motion_)], d->measured, limits_,
                       triangles);
}

void Session::logByEye(std::vector<std::uint32_t> triangles, Kind kind, int severity, const QString& note,
                       const QByteArray& camera, const QByteArray& picture) {
    if (!canLog())
        return;
    const auto d = detail();
    if (!d || triangles.empty())
        return fail("What is marked has not been measured yet; log it once the pose stands still.");
    const Finding f =
        findingByEye(*subject_, plan_, motion_, d->measured, degrees_, kind, limits_, std::move(triangles));
    DefectFacts facts = factsToLog(f, camera, picture);
    QString words = QString::fromStdString(jointWords(*subject_, f.joint));
    words[0] = words[0].toUpper();
    facts.what = tr("%1, seen by eye: %2, in %3 at %4.")
                     .arg(words, note.isEmpty() ? QLatin1String(nameOf(kind)) : note, facts.motionName,
                          QString::fromStdString(
                              wordsFor(plan_.motions[static_cast<std::size_t>(motion_)], degrees_)));
    if (const qint64 id = enterDefect(facts, severity > 0 ? severity : f.severity))
        pushLogged(id);
}

QVector<Defect> Session::mergeable(int index) const {
    QVector<Defect> out;
    const Finding* f = findingAt(index);
    if (!f)
        return out;
    for (const Defect& d : defects())
        if (d.build.character == QString::fromStdString(subject_->character->name) && isOpen(d.state))
            out << d;
    const QString joint = QString::fromStdString(subject_->character->skeleton.name[f->joint]);
    const QString limb = QString::fromStdString(plan_.motions[static_cast<std::size_t>(f->motion)].limb);
    const QString side = QLatin1String(nameOf(f->side));
    const auto unlike = [&](const Defect& d) {
        return (d.facts.joint != joint) * 4 + (d.facts.limb != limb) * 2 + (d.facts.side != side);
    };
    std::stable_sort(out.begin(), out.end(),
                     [&](const Defect& a, const Defect& b) { return unlike(a) < unlike(b); });
    return out;
}

struct Session::Step {
    DefectChange change;
    QString before;     // the value it goes back to
    qint64 version = 0; // of the event that was written last
};

void Session::mergeFinding(int index, qint64 id) {
    const Finding* f = findingAt(index);
    if (!canLog() || !f || defectOf(index))
        return;
    const QString json = QString::fromUtf8(
        mergedToJson(markOf(*subject_, *f), QString::fromStdString(sentence(*subject_, plan_, *f))));
    const auto say = [=, this](const char* field) {
        return write({{id, QLatin1String(field), json, 0, {}, false}});
    };
    if (!say("same fault"))
        return;
    undo_.push(new LogCommand(
        tr("merge a finding with defect %1").arg(id), [=] { return say("same fault"); },
        [=] { return say("not the same fault"); }));
    emit told(tr("Merged with defect %1.").arg(id));
}

void Session::settleFinding(int index, DefectState state, const QString& reason, const QByteArray& camera,
                            const QByteArray& picture) {
    const Finding* f = findingAt(index);
    if (!canLog() || !f)
        return;
    const qint64 known = defectOf(index);
    const qint64 id = known ? known : enterDefect(factsToLog(*f, camera, picture), f->severity);
    const Defect* d = defectCalled(id);
    if (!id || !d)
        return;
    writeUndoable(tr("defect %1 %2").arg(id).arg(nameOf(state)),
                  {{{id, QStringLiteral("state"), nameOf(state), d->version, reason, false},
                    nameOf(known ? d->state : DefectState::Withdrawn),
                    0}});
    if (const Defect* now = defectCalled(id); now && now->state == state)
        emit told(tr("Defect %1 is %2: %3").arg(id).arg(nameOf(state), reason));
}

// What could not be written because the log is gone.
bool Session::keep(const QVector<DefectChange>& changes) {
    if (!kept_)
        return false;
    for (const DefectChange& c : changes) {
        const QString words = c.field == QLatin1String("comment")
                                  ? tr("defect %1: “%2”").arg(c.defect).arg(c.value)
                                  : tr("defect %1: %2 %3")
                                        .arg(c.defect)
                                        .arg(c.field, c.value.isEmpty() ? tr("nobody") : c.value);
        if (auto held = kept_->add({QDateTime::currentDateTimeUtc(), author(), words, std::nullopt, 0, c});
            !held) {
            fail(held.error());
            return false;
        }
    }
    emit told(tr("The log does not answer. What you changed is kept, and will be offered once it does."));
    emit logStateChanged();
    return true;
}

bool Session::write(const QVector<DefectChange>& changes, QVector<qint64>* versions) {
    auto written = link_.ask([changes, by = author(), build = build_.id](ProductionLog& log) {
        return log.change(changes, by, build);
    });
    if (!written) {
        if (link_.state() == LogState::Lost)
            keep(changes);
        else
            fail(written.error());
        return false;
    }
    refreshLog();
    if (!written->clashes.isEmpty()) {
        const QString first = written->clashes.front().words();
        emit failed(written->clashes.size() == 1
                        ? first
                        : tr("%1 (and %2 more like it)").arg(first).arg(written->clashes.size() - 1));
    }
    if (versions)
        *versions = written->versions;
    return written->clashes.size() < changes.size();
}

void Session::writeUndoable(const QString& text, QVector<Step> wanted) {
    auto steps = std::make_shared<QVector<Step>>(std::move(wanted));
    const auto go = [this, steps](bool forth, bool first) {
        QVector<DefectChange> changes;
        for (const Step& s : *steps) {
            DefectChange c = s.change;
            if (!first) {
                c.basedOn = s.version;
                c.takesBack = true;
            }
            if (!forth) {
                c.value = s.before;
                c.reason = tr("taken back");
            }
            changes << c;
        }
        if (!forth) // what was done last is taken back first
            std::reverse(changes.begin(), changes.end());
        QVector<qint64> versions;
        if (!write(changes, &versions))
            return false;
        if (!forth)
            std::reverse(versions.begin(), versions.end());
        QVector<Step> done; // what clashed is no longer ours to take back
        for (int i = 0; i < steps->size() && i < versions.size(); ++i)
            if (versions[i]) {
                done << (*steps)[i];
                done.back().version = versions[i];
            }
        *steps = done;
        return true;
    };
    if (go(true, true))
        undo_.push(new LogCommand(
            text, [go] { return go(true, false); }, [go] { return go(false, false); }));
}

void Session::changeDefects(const QVector<qint64>& ids, const QString& field, const QString& value,
                            const QString& reason) {
    if (!canLog())
        return;
    QVector<Step> steps;
    for (qint64 id : ids) {
        const Defect* d = defectCalled(id);
        if (!d)
            continue;
        const QString before = field == QLatin1String("state")      ? nameOf(d->state)
                               : field == QLatin1String("severity") ? QString::number(d->severity)
                               : field == QLatin1String("assignee") ? d->assignee
                                                                    : d->due;
        if (before != value)
            steps.push_back({{id, field, value, d->version, reason, false}, before, 0});
    }
    if (steps.isEmpty())
        return;
    writeUndoable(steps.size() == 1 ? tr("change %1 of defect %2").arg(field).arg(steps.front().change.defect)
                                    : tr("change %1 of %2 defects").arg(field).arg(steps.size()),
                  steps);
}

void Session::comment(const QVector<qint64>& ids, const QString& words) {
    if (words.trimmed().isEmpty() || !canLog())
        return;
    QVector<DefectChange> changes;
    for (qint64 id : ids)
        changes.push_back({id, QStringLiteral("comment"), words.trimmed(), newestEvent_, {}, false});
    write(changes);
}

void Session::mergeDefects(qint64 keepId, const QVector<qint64>& others, const QString& reason) {
    const Defect* kept = defectCalled(keepId);
    if (!kept || !canLog())
        return;
    QVector<Step> steps;
    for (qint64 id : others) {
        const Defect* d = defectCalled(id);
        if (!d || id == keepId || d->duplicateOf == keepId)
            continue;
        steps.push_back({{id, QStringLiteral("duplicate of"), QString::number(keepId), d->version, {}, false},
                         QString::number(d->duplicateOf),
                         0});
        steps.push_back(
            {{id, QStringLiteral("state"), nameOf(DefectState::Duplicate), d->version, reason, false},
             nameOf(d->state),
             0});
    }
    if (!steps.isEmpty())
        writeUndoable(tr("merge into defect %1").arg(keepId), steps);
}

QVector<Session::SplitPart> Session::partsOf(qint64 id) {
    QVector<SplitPart> out;
    for (const Defect& d : defects())
        if (d.duplicateOf == id && d.state == DefectState::Duplicate)
            out.push_back({tr("%1. %2").arg(d.id).arg(d.facts.what), d.id, {}, {}});
    for (const auto& [of, json] : merged_)
        if (of == id)
            out.push_back({QJsonDocument::fromJson(json).object().value(QStringLiteral("what")).toString(),
                           0,
                           json,
                           {}});
    if (const auto whole = wholeDefect(id)) {
        const QJsonObject parts =
            QJsonDocument::fromJson(whole->facts.marks).object().value(QStringLiteral("parts")).toObject();
        if (parts.size() > 1)
            for (const QString& part : parts.keys())
                out.push_back({tr("what is marked on %1").arg(part), 0, {}, part});
    }
    return out;
}

void Session::splitDefect(qint64 id, const SplitPart& part) {
    if (!canLog())
        return;
    if (part.duplicate) {
        if (const Defect* d = defectCalled(part.duplicate))
            writeUndoable(
                tr("take defect %1 out of %2").arg(d->id).arg(id),
                {{{d->id, QStringLiteral("duplicate of"), QStringLiteral("0"), d->version, {}, false},
                  QString::number(id),
                  0},
                 {{d->id, QStringLiteral("state"),
                   nameOf(d->assignee.isEmpty() ? DefectState::Logged : DefectState::Assigned), d->version,
                   tr("a fault of its own, not that of %1").arg(id), false},
                  nameOf(DefectState::Duplicate),
                  0}});
        return;
    }
    auto whole = wholeDefect(id);
    if (!whole)
        return fail(whole.error());
    DefectFacts facts = whole->facts;
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
    const auto made = link_.ask([id, facts, severity = whole->severity, by = author()](ProductionLog& log) {
        return log.splitDefect(id, facts, severity, by);
    });
    if (!made)
        return fail(made.error());
    refreshLog();
    if (!part.finding.isEmpty())
        write({{id, QStringLiteral("not the same fault"), QString::fromUtf8(part.finding), 0, {}, false}});
    pushLogged(*made);
}

Result<Defect> Session::wholeDefect(qint64 id) {
    return link_.ask([id](ProductionLog& log) { return log.defect(id); });
}

Result<QVector<DefectEvent>> Session::historyOf(qint64 id) {
    return link_.ask([id](ProductionLog& log) { return log.history(id); });
}

void Session::askMentions(const QString& person, std::function<void(QSet<qint64>)> then) {
    link_.tell([person](ProductionLog& log) { return log.mentionsOf(person); },
               [this, then = std::move(then)](const Result<QVector<qint64>>& found) {
                   if (!found)
                       return fail(found.error());
                   then(QSet<qint64>(found->begin(), found->end()));
               });
}

void Session::writeKeptEdits() {
    if (!kept_ || kept_->edits().isEmpty())
        return;
    int written = 0;
    QStringList clashes;
    for (int i = 0; i < kept_->edits().size();) {
        const auto done =
            link_.ask([edit = kept_->edits()[i]](ProductionLog& log) { return writeKept(log, edit); });
        if (!done) { // a move that is no longer allowed, or the log is gone again: it stays kept
            fail(done.error());
            if (link_.state() == LogState::Lost)
                break;
            ++i;
            continue;
        }
        if (done->has_value()) {
            clashes << (*done)->words();
            ++i;
            continue;
        }
        ++written;
        kept_->remove(i);
    }
    refreshLog();
    emit logStateChanged();
    if (!clashes.isEmpty())
        emit failed(
            tr("%1 Still kept: %2. Change it again or drop it.").arg(clashes.front()).arg(clashes.size()));
    else if (written)
        emit told(written == 1 ? tr("What was kept is written.")
                               : tr("All %1 that were kept are written.").arg(written));
}

void Session::dropKeptEdit(int index) {
    if (!kept_)
        return;
    if (auto done = index < 0 ? kept_->clear() : kept_->remove(index); !done)
        fail(done.error());
    emit logStateChanged();
}

void Session::takeIntoLog(const QString& path) {
    if (!canLog())
        return;
    // with a connection of its own, so that the page goes on meanwhile
    jobs_.start(tr("Taking in %1").arg(QFileInfo(path).fileName()),
                [this, path, place = link_.place(), by = author()](JobControl&) -> std::function<void()> {
                    const auto done = takeIn(path, place, by);
                    return [this, done] {
                        if (!done)
                            return fail(done.error());
                        refreshLog();
                        emit told(*done);
                    };
                });
}

void Session::backUpLog(const QString& path) {
    jobs_.start(tr("Backing up the log"),
                [this, path, place = link_.place()](JobControl&) -> std::function<void()> {
                    auto log = ProductionLog::open(place);
                    const auto made = log ? (*log)->backUp(path) : Result<Done>(Error{log.error()});
                    return [this, path, made] {
                        if (!made)
                            return fail(made.error());
                        emit told(tr("The whole log is in %1.").arg(path));
                    };
                });
}

void Session::restoreLog(const QString& backup) {
    const auto address = LogAddress::parse(link_.place());
    if (!address || address->postgres)
        return fail("A server's log is restored with “hobble-cli log move”, into an empty database.");
    const QString path = address->path;
    {
        const auto whole = ProductionLog::open(backup); // is it one?
        if (!whole)
            return fail(whole.error());
    }
    const QString part = path + QStringLiteral(".part");
    QFile::remove(part);
    if (!QFile::copy(backup, part)) {
        QFile::remove(part);
        return fail(tr("Cannot restore: %1 cannot be written beside the log. Nothing was changed.")
                        .arg(part)
                        .toStdString());
    }
    QFile::setPermissions(part, QFile::permissions(part) | QFile::WriteOwner);
    link_.close(); // nothing of it stays open
    const QString aside =
        QStringLiteral("%1.before-restore-%2")
            .arg(path, QDateTime::currentDateTime().toString(QStringLiteral("yyyyMMdd-HHmmss")));
    for (const char* rest : {"-wal", "-shm"})
        if (QFile::exists(path + QLatin1String(rest)))
            QFile::rename(path + QLatin1String(rest), aside + QLatin1String(rest));
    if ((QFile::exists(path) && !QFile::rename(path, aside)) || !QFile::rename(part, path))
        return fail(tr("Cannot restore: the folder of %1 is protected.").arg(path).toStdString());
    openLog(path);
    if (link_.canRead())
        emit told(tr("Restored from %1. What was there before is kept in %2.").arg(backup, aside));
}

bool Session::roster(const Result<Done>& result) {
    if (!result)
        fail(result.error());
    refreshLog();
    return result.ok();
}

void Session::setPersonActive(qint64 id, bool active, const QString& text) {
    const auto set = [this, id](bool on) {
        return roster(link_.ask([id, on](ProductionLog& log) { return log.setPersonActive(id, on); }));
    };
    if (set(active))
        undo_.push(new LogCommand(
            text, [=] { return set(active); }, [=] { return set(!active); }));
}

void Session::addPerson(const QString& name) {
    if (!link_.canRead())
        return;
    for (const Person& p : people_)
        if (!p.active && p.name == name.simplified()) // welcome back
            return setPersonActive(p.id, true, tr("add %1").arg(p.name));
    auto added = link_.ask([name](ProductionLog& log) { return log.addPerson(name); });
    if (!added)
        return fail(added.error());
    refreshLog();
    const auto set = [this, id = *added](bool on) {
        return roster(link_.ask([id, on](ProductionLog& log) { return log.setPersonActive(id, on); }));
    };
    undo_.push(new LogCommand(
        tr("add %1").arg(name.simplified()), [set] { return set(true); }, [set] { return set(false); }));
}

void Session::renamePerson(qint64 id, const QString& name) {
    const auto call = [this, id](const QString& as) {
        return roster(
            link_.ask([id, as, by = author()](ProductionLog& log) { return log.renamePerson(id, as, by); }));
    };
    for (const Person& p : people_)
        if (p.id == id && p.name != name.simplified()) {
            const QString before = p.name; // the list is read anew by a change
            if (call(name))
                undo_.push(new LogCommand(
                    tr("rename %1").arg(before), [=] { return call(name); }, [=] { return call(before); }));
            return;
        }
}

void Session::setPersonMail(qint64 id, const QString& mail) {
    const auto set = [this, id](const QString& to) {
        return roster(link_.ask([id, to](ProductionLog& log) { return log.setPersonMail(id, to); }));
    };
    for (const Person& p : people_)
        if (p.id == id && p.mail != mail.simplified()) {
            const QString before = p.mail;
            if (set(mail))
                undo_.push(new LogCommand(
                    tr("address of %1").arg(p.name), [=] { return set(mail); }, [=] { return set(before); }));
            return;
        }
}

void Session::removePerson(qint64 id) { setPersonActive(id, false, tr("take a person off the roster")); }

} // namespace hobble
