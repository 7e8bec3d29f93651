// Whether the build is fit to be tested, and what the log knows of it and the builds before.
#include "app/session/build_desk.h"

#include "io/character_read.h"
#include "io/file_write.h"
#include "io/intake_limits_json.h"
#include "log/finding_defect.h"

#include <QDir>
#include <QFileInfo>

namespace hobble {

void BuildDesk::selectCheck(int check) {
    if (check >= static_cast<int>(checks_.size()))
        return;
    check_ = std::max(check, -1);
    emit checkChanged(QPrivateSignal());
}

bool BuildDesk::keepLimits(const IntakeLimits& limits) {
    limits_ = limits;
    QDir().mkpath(QFileInfo(limitsPath()).absolutePath());
    if (auto written = writeFile(limitsPath().toStdString(), intakeLimitsToJson(limits)); !written)
        fail(written.error());
    inspectAgain();
    return true;
}

void BuildDesk::setLimits(const IntakeLimits& limits) {
    if (limits == limits_)
        return;
    const IntakeLimits before = limits_;
    keepLimits(limits);
    undoable(
        tr("change Intake's limits"), [=, this] { return keepLimits(limits); },
        [=, this] { return keepLimits(before); });
}

void BuildDesk::inspectAgain() {
    if (!build_)
        return;
    jobs().start(tr("Inspecting %1").arg(title()),
                 [this, subject = build_, limits = limits_](JobControl& control) -> std::function<void()> {
                     auto found = inspect(*subject, limits, progressOf(control));
                     if (control.cancelled)
                         return
                             [this] { tell(tr("Stopped: the checks shown are by the limits of before.")); };
                     return [this, subject, found = std::move(found)] {
                         if (subject != build_)
                             return;
                         checks_ = found;
                         check_ = -1;
                         keepInspection();
                         emit intakeChanged(QPrivateSignal());
                         emit checkChanged(QPrivateSignal());
                     };
                 });
}

qint64 BuildDesk::defectOfCheck(int check) const {
    if (check < 0 || check >= static_cast<int>(checks_.size()))
        return 0;
    const CheckFinding& f = checks_[static_cast<std::size_t>(check)];
    for (const Defect& d : log_.defects())
        if (d.build.character == log_.character() && d.state != DefectState::Withdrawn &&
            tellsOf(d.facts, *build_, f))
            return d.id;
    return 0;
}

void BuildDesk::logCheck(int check, const QByteArray& camera, const QByteArray& picture) {
    if (!log_.canLog() || check < 0 || check >= static_cast<int>(checks_.size()))
        return;
    if (const qint64 known = defectOfCheck(check))
        return log_.pointTo(known);
    const CheckFinding& f = checks_[static_cast<std::size_t>(check)];
    DefectFacts facts = factsOf(*build_, f);
    facts.buildId = log_.build().id;
    facts.camera = camera;
    facts.picture = picture;
    log_.logDefect(facts, f.severity);
}

void BuildDesk::enterInLog() {
    builds_.clear();
    if (!build_)
        return;
    const Character& c = *build_->character;
    const auto entered = log_.enterBuild(QString::fromStdString(c.name), QString::fromStdString(c.hash),
                                         QString::fromStdString(c.formerHash),
                                         QFileInfo(QString::fromStdString(c.source)).absoluteFilePath());
    if (!entered && log_.state() != LogState::ReadOnly) // told once the character is there
        QMetaObject::invokeMethod(
            this, [this, message = entered.error()] { fail(message); }, Qt::QueuedConnection);
    keepInspection();
}

void BuildDesk::keepInspection() {
    const qint64 id = log_.build().id;
    if (log_.state() == LogState::Ready && build_ && id)
        if (auto kept = log_.link().ask([id, score = score(), failing = static_cast<int>(checks_.size()),
                                         json = inspectionToJson(*build_, checks_)](ProductionLog& log) {
                return log.addInspection(id, score, failing, json);
            });
            !kept)
            fail(kept.error());
    refreshBuilds();
}

void BuildDesk::refreshBuilds() {
    builds_.clear();
    if (!log_.link().canRead() || !build_)
        return;
    auto known = log_.link().ask([name = log_.character()](ProductionLog& log) { return log.builds(name); });
    if (!known)
        return fail(known.error());
    builds_ = std::move(*known);
}

void BuildDesk::note(qint64 id, const QString& note) {
    const auto write = [this, id](const QString& text) {
        if (auto noted = log_.link().ask(
                [id, text, by = log_.author()](ProductionLog& log) { return log.noteBuild(id, text, by); });
            !noted) {
            fail(noted.error());
            return false;
        }
        refreshBuilds();
        emit intakeChanged(QPrivateSignal());
        return true;
    };
    QString before;
    for (const BuildState& b : builds_)
        if (b.build.id == id)
            before = b.note;
    if (note == before || !write(note))
        return;
    undoable(
        tr("note on a build"), [=] { return write(note); }, [=] { return write(before); });
}

void BuildDesk::findAt(qint64 id, const QString& path) {
    const auto known =
        std::find_if(builds_.begin(), builds_.end(), [&](const BuildState& b) { return b.build.id == id; });
    if (known == builds_.end())
        return;
    jobs().start(
        tr("Looking at %1").arg(QFileInfo(path).fileName()),
        [this, path, build = known->build](JobControl& control) -> std::function<void()> {
            ReadSettings settings;
            settings.progress = progressOf(control);
            const auto read = readCharacter(path.toStdString(), settings);
            if (wasStopped(read))
                return {};
            if (!read)
                return [this, message = read.error()] { fail(message); };
            if (QString::fromStdString(read->hash) != build.hash &&
                QString::fromStdString(read->formerHash) != build.hash)
                return [this, path, build] {
                    fail(tr("%1 is not build %2 of %3: its content is another. Open it to enter it as a "
                            "build of its own.")
                             .arg(QFileInfo(path).fileName())
                             .arg(build.number)
                             .arg(build.character));
                };
            return [this, path, build] {
                if (auto moved =
                        log_.link().ask([build, at = QFileInfo(path).absoluteFilePath()](ProductionLog& log) {
                            return log.build(build.character, build.hash, at);
                        }); // by whichever hash it was found
                    !moved)
                    return fail(moved.error());
                refreshBuilds();
                emit intakeChanged(QPrivateSignal());
                tell(tr("Build %1 is found again.").arg(build.number));
            };
        });
}

} // namespace hobble
