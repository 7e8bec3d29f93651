#include "app/session/session.h"

#include "io/file_write.h"
#include "io/gltf_read.h"
#include "io/limits_json.h"
#include "io/measured_cache.h"
#include "log/finding_defect.h"

#include <QDir>
#include <QFileInfo>
#include <QSettings>
#include <QStandardPaths>
#include <QTimer>

namespace hobble {

namespace {

/// A change made already, when it is pushed, that can be taken back and made again. Each way writes events of
/// its own, so that the log's history stays whole. A way that fails (a clash, a locked file) drops the
/// command.
class LogCommand : public QUndoCommand {
public:
    LogCommand(const QString& text, std::function<bool()> forth, std::function<bool()> back)
        : QUndoCommand(text), forth_(std::move(forth)), back_(std::move(back)) {}
    void redo() override {
        if (!first_)
            setObsolete(!forth_());
        first_ = false;
    }
    void undo() override { setObsolete(!back_()); }

private:
    std::function<bool()> forth_, back_;
    bool first_ = true;
};

} // namespace

Session::Session(QObject* parent)
    : QObject(parent), limits_(Limits::standard()),
      measured_(std::make_unique<MeasuredCache>(
          (QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + QStringLiteral("/measured"))
              .toStdString())) {
    if (QFile::exists(limitsPath())) {
        if (auto kept = readLimits(limitsPath().toStdString()))
            limits_ = *kept;
        else // the window is not there yet to be told
            QTimer::singleShot(0, this, [this, message = kept.error()] { fail(message); });
    }
    connect(&poses_, &PoseWorker::posed, this, [this](std::shared_ptr<const PosedFrame> frame) {
        if (frame->subject != subject_)
            return; // of a character closed meanwhile
        frame_ = frame;
        emit frameReady(frame);
    });
}

Session::~Session() { jobs_.cancel(); }

QString Session::characterTitle() const {
    if (!subject_)
        return {};
    QString title = QString::fromStdString(subject_->character->name);
    title.replace(QLatin1Char('-'), QLatin1Char(' ')).replace(QLatin1Char('_'), QLatin1Char(' '));
    if (!title.isEmpty())
        title[0] = title[0].toUpper();
    return title;
}

void Session::openFile(const QString& path) {
    jobs_.cancel();
    jobs_.start(tr("Opening %1").arg(QFileInfo(path).fileName()),
                [this, path](JobControl&) -> std::function<void()> {
                    auto character = readGltf(path.toStdString());
                    if (!character)
                        return [this, message = character.error()] { fail(message); };
                    auto subject = std::make_shared<const Subject>(
                        prepareSubject(std::make_shared<const Character>(std::move(*character))));
                    return [this, subject] {
                        subject_ = subject;
                        plan_ = defaultPlan(*subject->character, subject->roles);
                        run_.reset();
                        matchDefects();
                        frame_.reset();
                        finding_ = -1;
                        motion_ = -1;
                        freeJoint_ = -1;
                        degrees_ = 0;
                        enterBuild();
                        emit characterChanged();
                        emit runChanged();
                        if (plan_.motions.empty()) {
                            setFreePose(Pose::neutral(subject->character->skeleton), -1, 0);
                            emit failed(subject->character->notes.empty()
                                            ? tr("There is no joint to test in this character.")
                                            : QString::fromStdString(subject->character->notes.front()));
                            return;
                        }
                        setPose(0, 0);
                        startRun();
                    };
                });
}

void Session::runAgain() {
    if (subject_ && !plan_.motions.empty())
        startRun();
}

void Session::setMethod(Skinning method) {
    if (method == method_)
        return;
    method_ = method;
    requestFrame();
    runAgain();
}

QString Session::limitsPath() {
    return QStandardPaths::writableLocation(QStandardPaths::AppConfigLocation) +
           QStringLiteral("/limits.json");
}

bool Session::keepLimits(const Limits& limits) {
    limits_ = limits;
    QDir().mkpath(QFileInfo(limitsPath()).absolutePath());
    if (auto written = writeFile(limitsPath().toStdString(), limitsToJson(limits)); !written)
        fail(written.error());
    emit limitsChanged();
    if (run_)
        startRun(run_->cancelled ? Why::Measure : Why::JudgeAgain);
    return true;
}

void Session::setLimits(const Limits& limits) {
    if (limits == limits_)
        return;
    const Limits before = limits_;
    keepLimits(limits);
    undo_.push(new LogCommand(
        tr("change limits"), [=, this] { return keepLimits(limits); },
        [this, before = before] { return keepLimits(before); }));
}

void Session::startRun(Why why) {
    jobs_.start(tr("Testing %1").arg(characterTitle()),
                [this, why, subject = subject_, plan = plan_, method = method_, limits = limits_,
                 before = run_](JobControl& control) -> std::function<void()> {
                    RunOptions options;
                    options.method = method;
                    options.limits = limits;
                    options.cancel = &control.cancelled;
                    options.store = measured_.get();
                    options.before = before;
                    options.progress = [&](const RunProgress& p) {
                        control.tell(p.done, p.total, p.secondsLeft);
                    };
                    auto result = std::make_shared<const RunResult>(runPlan(*subject, plan, options));
                    return [this, why, subject, result] {
                        if (subject == subject_)
                            finishRun(result, why);
                    };
                });
}

void Session::finishRun(std::shared_ptr<const RunResult> result, Why why) {
    int kept = -1; // the finding looked at, among the new ones
    if (why == Why::JudgeAgain && run_ && finding_ >= 0) {
        std::vector<FindingMark> now;
        for (const Finding& f : result->findings)
            now.push_back(markOf(*subject_, f));
        const auto match =
            matchFindings(now, {markOf(*subject_, run_->findings[static_cast<std::size_t>(finding_)])});
        kept = static_cast<int>(std::find(match.begin(), match.end(), 0) - match.begin());
        kept = kept < static_cast<int>(match.size()) ? kept : -1;
    }
    run_ = std::move(result);
    finding_ = kept;
    matchDefects();
    if (run_->cancelled)
        emit told(
            tr("Run stopped: the motions that were finished are shown. “Run the plan” goes on from there."));
    if (why == Why::Measure) {
        runAt_ = QDateTime::currentDateTime();
        if (!run_->cancelled && log_ && !log_->readOnly() && build_.id)
            if (auto entered = log_->addRun(summaryOf(*subject_, *run_, build_.id)); !entered)
                fail(entered.error());
    }
    emit runChanged();
    if (why == Why::Measure && !run_->findings.empty() && motion_ <= 0 && degrees_ == 0)
        showFinding(0);
}

void Session::setPose(int motion, double degrees) {
    if (!subject_ || motion < 0 || motion >= static_cast<int>(plan_.motions.size()))
        return;
    degrees = std::clamp(degrees, 0.0, plan_.motions[motion].limit());
    if (motion == motion_ && degrees == degrees_ && freeJoint_ < 0)
        return;
    motion_ = motion;
    degrees_ = degrees;
    freeJoint_ = -1;
    emit poseChanged();
    requestFrame();
}

void Session::setFreePose(const Pose& pose, int joint, double degrees) {
    motion_ = -1;
    freeJoint_ = joint;
    degrees_ = degrees;
    freePose_ = pose;
    emit poseChanged();
    requestFrame();
}

int Session::joint() const {
    if (motion_ < 0)
        return freeJoint_;
    if (finding_ >= 0 && run_ && run_->findings[finding_].motion == motion_)
        return run_->findings[finding_].joint;
    return plan_.motions[motion_].turns.front().joint;
}

void Session::requestFrame() {
    if (!subject_)
        return;
    PoseRequest r;
    r.subject = subject_;
    r.method = method_;
    r.motion = motion_;
    r.degrees = degrees_;
    if (motion_ >= 0) {
        r.pose = poseAt(subject_->character->skeleton, plan_.motions[motion_], degrees_);
        for (const JointTurn& t : plan_.motions[motion_].turns)
            r.joints.push_back(t.joint);
    } else {
        r.pose = freePose_;
        if (freeJoint_ >= 0)
            r.joints.push_back(freeJoint_);
    }
    poses_.request(std::move(r));
}

void Session::selectFinding(int finding) {
    if (!run_ || finding >= static_cast<int>(run_->findings.size()) || finding == finding_)
        return;
    finding_ = finding;
    emit findingChanged();
}

void Session::showFinding(int finding) {
    if (!run_ || finding < 0 || finding >= static_cast<int>(run_->findings.size()))
        return;
    selectFinding(finding);
    setPose(run_->findings[finding].motion, run_->findings[finding].peakDegrees);
}

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
}

void Session::enterBuild() {
    build_ = {};
    if (!log_ || !subject_)
        return;
    const Character& c = *subject_->character;
    auto build = log_->build(QString::fromStdString(c.name), QString::fromStdString(c.hash),
                             QFileInfo(QString::fromStdString(c.source)).absoluteFilePath());
    if (build)
        build_ = *build;
    else if (!log_->readOnly())
        fail(build.error());
}

void Session::refreshLog() {
    if (!log_)
        return;
    auto defects = log_->defects();
    auto people = log_->people();
    if (!defects || !people)
        return fail(defects ? people.error() : defects.error());
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
    for (int match : matchFindings(now, logged))
        defectOf_.push_back(match < 0 ? 0 : ids[static_cast<std::size_t>(match)]);
}

// The new defect's id, or 0 when it could not be entered.
qint64 Session::enterDefect(int index, const QByteArray& camera, const QByteArray& picture) {
    const Finding& f = run_->findings[static_cast<std::size_t>(index)];
    DefectFacts facts = factsOf(*subject_, plan_, f);
    facts.buildId = build_.id;
    facts.camera = camera;
    facts.picture = picture;
    auto id = log_->addDefect(facts, f.severity, author());
    if (!id) {
        fail(id.error());
        return 0;
    }
    refreshLog();
    return *id;
}

void Session::logDefect(int index, const QByteArray& camera, const QByteArray& picture) {
    if (!log_)
        return fail("There is no log open to write the defect to.");
    if (!run_ || index < 0 || index >= static_cast<int>(run_->findings.size()))
        return;
    if (const qint64 known = defectOf(index))
        return void(emit defectLogged(known));
    const qint64 id = enterDefect(index, camera, picture);
    if (!id)
        return;
    undo_.push(new LogCommand(
        tr("log defect %1").arg(id),
        [=, this] { return write(id, QStringLiteral("status"), QStringLiteral("open")); },
        [=, this] { return write(id, QStringLiteral("status"), QStringLiteral("withdrawn")); }));
    emit defectLogged(id);
}

void Session::settleFinding(int index, const QString& status, const QString& reason, const QByteArray& camera,
                            const QByteArray& picture) {
    if (!log_)
        return fail("There is no log open to write this to.");
    if (!run_ || index < 0 || index >= static_cast<int>(run_->findings.size()))
        return;
    const qint64 known = defectOf(index);
    const qint64 id = known ? known : enterDefect(index, camera, picture);
    if (!id)
        return;
    const auto it =
        std::find_if(defects_.begin(), defects_.end(), [&](const Defect& d) { return d.id == id; });
    const QString before = known && it != defects_.end() ? it->status : QStringLiteral("withdrawn");
    if (!write(id, QStringLiteral("status"), status) || !write(id, QStringLiteral("comment"), reason))
        return;
    undo_.push(new LogCommand(
        tr("defect %1 %2").arg(id).arg(status),
        [=, this] { return write(id, QStringLiteral("status"), status); },
        [=, this] { return write(id, QStringLiteral("status"), before); }));
    emit told(tr("Defect %1 is %2: %3").arg(id).arg(status, reason));
}

std::vector<SpotMotion> Session::worstMotionsAt(std::uint32_t v) const {
    if (!subject_ || !run_)
        return {};
    return hobble::worstMotionsAt(*subject_, plan_, method_, limits_, *measured_, v);
}

bool Session::write(qint64 id, const QString& field, const QString& value) {
    if (!log_)
        return false;
    auto it = std::find_if(defects_.begin(), defects_.end(), [&](const Defect& d) { return d.id == id; });
    if (it == defects_.end())
        return false;
    auto version = log_->change(id, field, value, it->version, author());
    if (!version)
        fail(version.error());
    refreshLog();
    return version.ok();
}

void Session::changeDefect(qint64 id, const QString& field, const QString& value) {
    auto it = std::find_if(defects_.begin(), defects_.end(), [&](const Defect& d) { return d.id == id; });
    if (it == defects_.end())
        return;
    const QString before = field == QLatin1String("status")     ? it->status
                           : field == QLatin1String("severity") ? QString::number(it->severity)
                           : field == QLatin1String("assignee") ? it->assignee
                                                                : it->due;
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
