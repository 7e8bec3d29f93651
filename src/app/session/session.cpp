#include "app/session/session.h"

#include "app/session/log_command.h"
#include "app/session/plan_desk.h"
#include "core/judge/patches.h"
#include "core/run/result_for.h"
#include "io/character_read.h"
#include "io/file_write.h"
#include "io/intake_limits_json.h"
#include "io/limits_json.h"
#include "io/measured_cache.h"
#include "log/finding_defect.h"

#include <QDir>
#include <QFileInfo>
#include <QSettings>
#include <QStandardPaths>
#include <QTimer>

namespace hobble {

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
    if (QFile::exists(intakeLimitsPath())) {
        if (auto kept = readIntakeLimits(intakeLimitsPath().toStdString()))
            intakeLimits_ = *kept;
        else
            QTimer::singleShot(0, this, [this, message = kept.error()] { fail(message); });
    }
    connect(&watch_, &FolderWatch::arrived, this, &Session::delivered);
    connect(&watch_, &FolderWatch::lost, this, [this](const QString& folder) {
        QSettings().remove(QStringLiteral("watchedFolder"));
        fail(tr("The watched folder %1 is gone. Watch it again once it is back.").arg(folder).toStdString());
        emit intakeChanged();
    });
    if (const QString folder = QSettings().value(QStringLiteral("watchedFolder")).toString();
        !folder.isEmpty())
        watch_.setFolder(folder);
    watchLog();
    desk_ = std::make_unique<PlanDesk>(this);
    asides_.setMaxThreadCount(1);
    connect(&poses_, &PoseWorker::detailed, this, [this](std::shared_ptr<const PosedDetail> detail) {
        if (detail->frame != frame_)
            return;
        detail_ = std::move(detail);
        emit detailReady();
    });
    connect(&poses_, &PoseWorker::posed, this, [this](std::shared_ptr<const PosedFrame> frame) {
        if (frame->subject != subject_)
            return; // of a character closed meanwhile
        frame_ = frame;
        emit frameReady(frame);
    });
}

Session::~Session() {
    jobs_.cancel();
    asides_.waitForDone();
}

QString Session::characterTitle() const {
    if (!subject_)
        return {};
    QString title = QString::fromStdString(subject_->character->name);
    title.replace(QLatin1Char('-'), QLatin1Char(' ')).replace(QLatin1Char('_'), QLatin1Char(' '));
    if (!title.isEmpty())
        title[0] = title[0].toUpper();
    return title;
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

void Session::takeMotion(const std::shared_ptr<const Subject>& subject, std::size_t motion,
                         const MotionResult& result) {
    if (subject != subject_ || motion >= plan_.motions.size())
        return;
    arriving_.resize(plan_.motions.size());
    arriving_[motion] = result;
    emit motionMeasured(static_cast<int>(motion));
}

const MotionResult* Session::resultOf(int motion) const {
    const auto m = static_cast<std::size_t>(motion);
    if (motion >= 0 && m < arriving_.size() && !arriving_[m].steps.empty())
        return &arriving_[m];
    return motion >= 0 && run_ && m < run_->motions.size() && !run_->motions[m].steps.empty()
               ? &run_->motions[m]
               : nullptr;
}

const MotionResult* Session::Earlier::of(const Motion& motion) const {
    const auto it = motions.find(motion.id);
    return it == motions.end() || it->second.steps.empty() ? nullptr : &it->second;
}

void Session::askWorstMotionsAt(std::uint32_t v) {
    if (!subject_ || !run_)
        return emit worstMotionsFound(v, {});
    asides_.start([this, v, subject = subject_, plan = plan_, method = method_, limits = limits_] {
        auto found = hobble::worstMotionsAt(*subject, plan, method, limits, *measured_, v);
        QMetaObject::invokeMethod(this, [this, v, subject, found = std::move(found)] {
            if (subject == subject_)
                emit worstMotionsFound(v, found);
        });
    });
}

void Session::startRun(Why why) {
    arriving_.clear();
    jobs_.start(
        variant_ < 0 ? tr("Testing %1").arg(characterTitle())
                     : tr("Testing %1, %2")
                           .arg(characterTitle(),
                                QString::fromStdString(variants_[static_cast<std::size_t>(variant_)].name)),
        [this, why, subject = subject_, plan = plan_, method = method_, limits = limits_,
         before = run_](JobControl& control) -> std::function<void()> {
            RunOptions options;
            options.method = method;
            options.limits = limits;
            options.cancel = &control.cancelled;
            options.store = measured_.get();
            options.before = before;
            options.progress = [&](const RunProgress& p) { control.tell(p.done, p.total, p.secondsLeft); };
            if (why == Why::Measure)
                options.finished = [this, subject](std::size_t m, const MotionResult& result) {
                    QMetaObject::invokeMethod(this,
                                              [this, subject, m, result] { takeMotion(subject, m, result); });
                };
            auto result = std::make_shared<const RunResult>(runPlan(*subject, plan, options));
            return [this, why, subject, plan, result] {
                if (subject != subject_)
                    return;
                ranPlan_ = plan;
                finishRun(std::make_shared<const RunResult>(resultFor(*result, plan_)), why);
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
    arriving_.clear();
    finding_ = kept;
    matchDefects();
    if (run_->cancelled)
        emit told(
            tr("Run stopped: the motions that were finished are shown. “Run the plan” goes on from there."));
    if (run_->posesMeasured > run_->plan.stepCount() / 2 && !run_->cancelled)
        pace_ = run_->seconds / static_cast<double>(run_->posesMeasured);
    if (why == Why::Measure) {
        runAt_ = QDateTime::currentDateTime();
        if (!run_->cancelled && variant_ < 0 && link_.state() == LogState::Ready && build_.id)
            link_.tell([summary = summaryOf(*subject_, *run_, build_.id)](
                           ProductionLog& log) { return log.addRun(summary); },
                       [this](const Result<qint64>& entered) {
                           if (!entered)
                               fail(entered.error());
                       });
    }
    emit runChanged();
    emit planChanged(); // what has changed since the run
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

void Session::setWish(const FrameWish& wish) {
    if (wish == wish_)
        return;
    wish_ = wish;
    requestFrame();
}

// Where in the motion the ghost stands; nothing when there is none.
std::optional<double> Session::ghostDegrees() const {
    if (wish_.ghost == Ghost::None)
        return std::nullopt;
    if (wish_.ghost == Ghost::Neutral)
        return 0;
    const Motion& m = plan_.motions[static_cast<std::size_t>(motion_)];
    std::optional<double> beside;
    for (double d : m.degrees)
        if (wish_.ghost == Ghost::StepBefore ? d < degrees_ - 1e-6 && (!beside || d > *beside)
                                             : d > degrees_ + 1e-6 && (!beside || d < *beside))
            beside = d;
    return beside;
}

void Session::requestFrame() {
    if (!subject_)
        return;
    PoseRequest r;
    r.subject = subject_;
    r.method = method_;
    r.wish = wish_;
    r.run = run_;
    r.store = measured_.get();
    r.floors = floorsFor(limits_);
    r.motion = motion_;
    r.degrees = degrees_;
    if (motion_ >= 0) {
        r.pose = poseAt(subject_->character->skeleton, plan_.motions[motion_], degrees_);
        for (const JointTurn& t : plan_.motions[motion_].turns)
            r.joints.push_back(t.joint);
        r.moved = std::make_shared<const Motion>(plan_.motions[motion_]);
        if (const auto degrees = ghostDegrees())
            r.ghost = poseAt(subject_->character->skeleton, plan_.motions[motion_], *degrees);
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
    if (finding == finding_)
        emit findingChanged(); // asked for again: it is to be framed again
    selectFinding(finding);
    setPose(run_->findings[finding].motion, run_->findings[finding].peakDegrees);
}

} // namespace hobble
