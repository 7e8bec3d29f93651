// What the session does with the production log: defects, roster, builds.
#include "app/session/log_command.h"
#include "app/session/session.h"
#include "core/judge/by_eye.h"
#include "io/run_curves.h"
#include "io/run_json.h"
#include "log/finding_defect.h"

#include <QFileInfo>
#include <QSettings>

#include <algorithm>

namespace hobble {

QString Session::author() const {
    const QString fallback = qEnvironmentVariable("USER", QStringLiteral("lead"));
    return QSettings().value(QStringLiteral("author"), fallback).toString();
}

void Session::openLog(const QString& path) {
    auto log = ProductionLog::open(path, 250); // the window does not wait longer than that for another writer
    if (!log)
        return fail(log.error());
    log_ = std::move(*log);
    undo_.clear();
    if (log_->readOnly())
        emit failed(
            tr("The log %1 is read-only: it can be looked at, and nothing will be written.").arg(path));
    enterBuild();
    refreshLog();
    emit intakeChanged();
}

void Session::enterBuild() {
    build_ = {};
    builds_.clear();
    if (!log_ || !subject_)
        return;
    const Character& c = *subject_->character;
    auto build = log_->build(QString::fromStdString(c.name), QString::fromStdString(c.hash),
                             QFileInfo(QString::fromStdString(c.source)).absoluteFilePath());
    if (build)
        build_ = *build;
    else if (!log_->readOnly()) // told once the character is there
        QMetaObject::invokeMethod(
            this, [this, message = build.error()] { fail(message); }, Qt::QueuedConnection);
    keepInspection();
    loadEarlier();
}

void Session::loadEarlier() {
    earlier_.reset();
    if (!log_ || !subject_ || !build_.id)
        return;
    const auto kept = log_->runBefore(build_.id);
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

void Session::refreshLog() {
    if (built_) // other leads' versions of the plan
        refreshPlanVersions();
    if (!log_)
        return;
    auto defects = log_->defects();
    auto people = log_->people();
    auto merged = log_->mergedFindings();
    if (!defects || !people || !merged)
        return fail(!defects ? defects.error() : !people ? people.error() : merged.error());
    merged_ = std::move(*merged);
    defects_ = std::move(*defects);
    people_ = std::move(*people);
    matchDefects();
    emit logChanged();
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
    for (const Defect& d : defects_)
        if (d.build.character == QString::fromStdString(subject_->character->name) &&
            d.status != QLatin1String("withdrawn"))
            if (const auto mark = markOf(d.facts)) {
                logged.push_back(*mark);
                ids.push_back(d.id);
            }
    for (const auto& [id, json] : merged_) {
        const Defect* d = defectCalled(id);
        const auto mark = mergedFromJson(json);
        if (d && mark && d->build.character == QString::fromStdString(subject_->character->name) &&
            d->status != QLatin1String("withdrawn")) {
            logged.push_back(*mark);
            ids.push_back(id);
        }
    }
    for (int match : matchFindings(now, logged))
        defectOf_.push_back(match < 0 ? 0 : ids[static_cast<std::size_t>(match)]);
}

const Defect* Session::defectCalled(qint64 id) const {
    const auto it =
        std::find_if(defects_.begin(), defects_.end(), [&](const Defect& d) { return d.id == id; });
    return it == defects_.end() ? nullptr : &*it;
}

DefectFacts Session::factsToLog(const Finding& f, const QByteArray& camera, const QByteArray& picture) const {
    DefectFacts facts = factsOf(*subject_, plan_, f);
    facts.buildId = build_.id;
    facts.camera = camera;
    facts.picture = picture;
    return facts;
}

// The new defect's id, or 0 when it could not be entered.
qint64 Session::enterDefect(const DefectFacts& facts, int severity) {
    auto id = log_->addDefect(facts, severity, author());
    if (!id) {
        fail(id.error());
        return 0;
    }
    refreshLog();
    return *id;
}

void Session::pushLogged(qint64 id) {
    undo_.push(new LogCommand(
        tr("log defect %1").arg(id),
        [=, this] { return write(id, QStringLiteral("status"), QStringLiteral("open")); },
        [=, this] { return write(id, QStringLiteral("status"), QStringLiteral("withdrawn")); }));
    emit defectLogged(id);
}

const Finding* Session::findingAt(int index) const {
    return run_ && index >= 0 && index < static_cast<int>(run_->findings.size())
               ? &run_->findings[static_cast<std::size_t>(index)]
               : nullptr;
}

void Session::logDefect(int index, const QByteArray& camera, const QByteArray& picture) {
    if (!log_)
        return fail("There is no log open to write the defect to.");
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
    if (!log_)
        return fail("There is no log open to write the defect to.");
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
    for (const Defect& d : defects_)
        if (d.build.character == QString::fromStdString(subject_->character->name) &&
            (d.status == QLatin1String("open") || d.status == QLatin1String("in work")))
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

void Session::mergeFinding(int index, qint64 id) {
    const Finding* f = findingAt(index);
    if (!log_ || !f || defectOf(index))
        return;
    const QString json = QString::fromUtf8(
        mergedToJson(markOf(*subject_, *f), QString::fromStdString(sentence(*subject_, plan_, *f))));
    const auto same = [=, this] { return write(id, QStringLiteral("same fault"), json); };
    if (!same())
        return;
    undo_.push(new LogCommand(tr("merge a finding with defect %1").arg(id), same,
                              [=, this] { return write(id, QStringLiteral("not the same fault"), json); }));
    emit told(tr("Merged with defect %1.").arg(id));
}

void Session::settleFinding(int index, const QString& status, const QString& reason, const QByteArray& camera,
                            const QByteArray& picture) {
    if (!log_)
        return fail("There is no log open to write this to.");
    const Finding* f = findingAt(index);
    if (!f)
        return;
    const qint64 known = defectOf(index);
    const qint64 id = known ? known : enterDefect(factsToLog(*f, camera, picture), f->severity);
    if (!id)
        return;
    const Defect* now = defectCalled(id);
    const QString before = known && now ? now->status : QStringLiteral("withdrawn");
    if (!write(id, QStringLiteral("status"), status) || !write(id, QStringLiteral("comment"), reason))
        return;
    undo_.push(new LogCommand(
        tr("defect %1 %2").arg(id).arg(status),
        [=, this] { return write(id, QStringLiteral("status"), status); },
        [=, this] { return write(id, QStringLiteral("status"), before); }));
    emit told(tr("Defect %1 is %2: %3").arg(id).arg(status, reason));
}

bool Session::write(qint64 id, const QString& field, const QString& value) {
    if (!log_)
        return false;
    const Defect* d = defectCalled(id);
    if (!d)
        return false;
    auto version = log_->change(id, field, value, d->version, author());
    if (!version)
        fail(version.error());
    refreshLog();
    return version.ok();
}

void Session::changeDefect(qint64 id, const QString& field, const QString& value) {
    const Defect* d = defectCalled(id);
    if (!d)
        return;
    const QString before = field == QLatin1String("status")     ? d->status
                           : field == QLatin1String("severity") ? QString::number(d->severity)
                           : field == QLatin1String("assignee") ? d->assignee
                                                                : d->due;
    if (before == value)
        return;
    if (write(id, field, value))
        undo_.push(new LogCommand(
            tr("change %1 of defect %2").arg(field).arg(id), [=, this] { return write(id, field, value); },
            [=, this] { return write(id, field, before); }));
}

void Session::comment(qint64 id, const QString& text) {
    if (!text.trimmed().isEmpty())
        write(id, QStringLiteral("comment"), text.trimmed());
}

bool Session::roster(const Result<Done>& result) {
    if (!result)
        fail(result.error());
    refreshLog();
    return result.ok();
}

void Session::setPersonActive(qint64 id, bool active, const QString& text) {
    if (log_ && roster(log_->setPersonActive(id, active)))
        undo_.push(new LogCommand(
            text, [=, this] { return roster(log_->setPersonActive(id, active)); },
            [=, this] { return roster(log_->setPersonActive(id, !active)); }));
}

void Session::addPerson(const QString& name) {
    if (!log_)
        return;
    for (const Person& p : people_)
        if (!p.active && p.name == name.simplified()) // welcome back
            return setPersonActive(p.id, true, tr("add %1").arg(p.name));
    auto added = log_->addPerson(name);
    if (!added)
        return fail(added.error());
    refreshLog();
    undo_.push(new LogCommand(
        tr("add %1").arg(name.simplified()),
        [this, id = *added] { return roster(log_->setPersonActive(id, true)); },
        [this, id = *added] { return roster(log_->setPersonActive(id, false)); }));
}

void Session::renamePerson(qint64 id, const QString& name) {
    if (!log_)
        return;
    for (const Person& p : people_)
        if (p.id == id && p.name != name.simplified()) {
            const QString before = p.name; // the list is read anew by a change
            if (!roster(log_->renamePerson(id, name)))
                return;
            undo_.push(new LogCommand(
                tr("rename %1").arg(before), [=, this] { return roster(log_->renamePerson(id, name)); },
                [=, this] { return roster(log_->renamePerson(id, before)); }));
            return;
        }
}

void Session::removePerson(qint64 id) { setPersonActive(id, false, tr("take a person off the roster")); }

} // namespace hobble
