#include "app/session/run_desk.h"

#include "core/judge/patches.h"
#include "core/run/result_for.h"
#include "core/run/variant_run.h"
#include "core/words/finding_words.h"
#include "io/file_write.h"
#include "io/limits_json.h"
#include "io/run_curves.h"
#include "log/finding_defect.h"

#include <QDir>
#include <QFileInfo>
#include <QTimer>

namespace hobble {

RunDesk::RunDesk(Shared& shared, BuildDesk& build, PlanDesk& plan, LogDesk& log)
    : Desk(shared), build_(build), plan_(plan), log_(log), limits_(Limits::standard()) {
    if (QFile::exists(limitsPath())) {
        if (auto kept = readLimits(limitsPath().toStdString()))
            limits_ = *kept;
        else // the window is not there yet to be told
            QTimer::singleShot(0, this, [this, message = kept.error()] { fail(message); });
    }
    asides_.setMaxThreadCount(1);
    view_.setStore(measured(), floorsFor(limits_));
    connect(&build, &BuildDesk::subjectReplaced, this, &RunDesk::takeSubject);
    connect(&build, &BuildDesk::characterSettled, this, &RunDesk::settled);
    connect(&plan, &PlanDesk::planReplaced, this, &RunDesk::takePlan);
    connect(&plan, &PlanDesk::planSettled, this, [this] {
        emit poseChanged(QPrivateSignal());
        emit runChanged(QPrivateSignal());
    });
    connect(&build, &BuildDesk::variantsChanged, this, [this] {
        if (build_.variants() != tested_) // of other variants
            variantResults_.clear();
    });
    connect(&log, &LogDesk::logChanged, this, &RunDesk::matchDefects);
    connect(&log, &LogDesk::opened, this, &RunDesk::loadEarlier);
    connect(&log, &LogDesk::logChanged, this, &RunDesk::loadGood);
}

RunDesk::~RunDesk() { asides_.waitForDone(); }

void RunDesk::takeSubject(BuildDesk::Change change) {
    const bool worn = change == BuildDesk::Change::Worn;
    run_.reset();
    ranPlan_.reset();
    arriving_.clear();
    finding_ = -1;
    if (!worn) { // of the past, too
        variantResults_.clear();
        motion_ = -1;
        motionId_.clear();
        poseAt_ = 0;
    }
    freeJoint_ = -1;
    view_.setSubject(build_.subject());
    if (change == BuildDesk::Change::Opened)
        loadEarlier();
    matchDefects();
}

void RunDesk::settled(BuildDesk::Change change) {
    emit runChanged(QPrivateSignal());
    if (plan_.plan().motions.empty()) {
        setFreePose(Pose::neutral(build_.subject()->character->skeleton), -1, 0);
        const auto& notes = build_.subject()->character->notes;
        if (change == BuildDesk::Change::Opened)
            fail(notes.empty() ? tr("There is no joint to test in this character.")
                               : QString::fromStdString(notes.front()));
        return;
    }
    const int motion = std::max(motion_, 0);
    motion_ = -1; // so that it is shown anew
    setPose(motion, poseAt_);
    start();
}

void RunDesk::start() {
    if (build_.subject() && !plan_.plan().motions.empty())
        begin(Why::Measure);
}

void RunDesk::setMethod(Skinning method) {
    if (method == view_.method())
        return;
    view_.setMethod(method);
    emit methodChanged(QPrivateSignal());
    start();
}

QString RunDesk::limitsPath() { return settingsFile(QStringLiteral("limits.json")); }

bool RunDesk::keepLimits(const Limits& limits) {
    limits_ = limits;
    view_.setStore(measured(), floorsFor(limits_));
    QDir().mkpath(QFileInfo(limitsPath()).absolutePath());
    if (auto written = writeFile(limitsPath().toStdString(), limitsToJson(limits)); !written)
        fail(written.error());
    emit limitsChanged(QPrivateSignal());
    if (run_)
        begin(run_->cancelled ? Why::Measure : Why::JudgeAgain);
    return true;
}

void RunDesk::setLimits(const Limits& limits) {
    if (limits == limits_)
        return;
    const Limits before = limits_;
    keepLimits(limits);
    undoable(
        tr("change limits"), [=, this] { return keepLimits(limits); },
        [this, before] { return keepLimits(before); });
}

void RunDesk::takeMotion(const std::shared_ptr<const Subject>& subject, std::size_t motion,
                         const MotionResult& result) {
    if (subject != build_.subject() || motion >= plan_.plan().motions.size())
        return;
    arriving_.resize(plan_.plan().motions.size());
    arriving_[motion] = result;
    emit motionMeasured(static_cast<int>(motion), QPrivateSignal());
}

const MotionResult* RunDesk::resultOf(int motion) const {
    const auto m = static_cast<std::size_t>(motion);
    if (motion >= 0 && m < arriving_.size() && !arriving_[m].steps.empty())
        return &arriving_[m];
    return motion >= 0 && run_ && m < run_->motions.size() && !run_->motions[m].steps.empty()
               ? &run_->motions[m]
               : nullptr;
}

namespace {
const MotionResult* resultIn(const std::map<std::string, MotionResult>& motions, const Motion& motion) {
    const auto it = motions.find(motion.id);
    return it == motions.end() || it->second.steps.empty() ? nullptr : &it->second;
}
} // namespace

const MotionResult* RunDesk::Earlier::of(const Motion& motion) const { return resultIn(motions, motion); }

// Motions are called by what they do to which part of a body, so that another character's answer.
const MotionResult* RunDesk::GoodBuild::of(const Motion& motion) const {
    return resultIn(curves.motions, motion);
}

void RunDesk::askWorstMotionsAt(std::uint32_t v) {
    if (!build_.subject() || !run_)
        return emit worstMotionsFound(v, {}, QPrivateSignal());
    asides_.start(
        [this, v, subject = build_.subject(), plan = plan_.plan(), method = method(), limits = limits_] {
            auto found = worstMotionsAt(*subject, plan, method, limits, *measured(), v);
            QMetaObject::invokeMethod(this, [this, v, subject, found = std::move(found)] {
                if (subject == build_.subject())
                    emit worstMotionsFound(v, found, QPrivateSignal());
            });
        });
}

void RunDesk::begin(Why why) {
    arriving_.clear();
    const bool ofTheBuild = build_.wearsNothing(); // only then is it the build's own run
    jobs().start(ofTheBuild ? tr("Testing %1").arg(build_.title())
                            : tr("Testing %1, %2").arg(build_.title(), build_.wornName()),
                 [this, why, ofTheBuild, subject = build_.subject(), plan = plan_.plan(), method = method(),
                  limits = limits_, before = run_](JobControl& control) -> std::function<void()> {
                     RunOptions options;
                     options.method = method;
                     options.limits = limits;
                     options.cancel = &control.cancelled;
                     options.store = measured();
                     options.before = before;
                     options.progress = [&](const RunProgress& p) {
                         control.tell(p.done, p.total, p.secondsLeft);
                     };
                     if (why == Why::Measure)
                         options.finished = [this, subject](std::size_t m, const MotionResult& result) {
                             QMetaObject::invokeMethod(
                                 this, [this, subject, m, result] { takeMotion(subject, m, result); });
                         };
                     auto result = std::make_shared<const RunResult>(runPlan(*subject, plan, options));
                     std::optional<RunSummary> summary;
                     if (why == Why::Measure && ofTheBuild && !result->cancelled)
                         summary = summaryOf(*subject, *result, 0);
                     return [this, why, subject, plan, result, summary]() mutable {
                         if (subject != build_.subject())
                             return;
                         ranPlan_ = plan;
                         if (summary && log_.state() == LogState::Ready && log_.build().id) {
                             summary->buildId = log_.build().id;
                             log_.link().tell([summary](ProductionLog& log) { return log.addRun(*summary); },
                                              [this, of = summary->buildId](const Result<qint64>& entered) {
                                                  if (!entered)
                                                      return fail(entered.error());
                                                  if (of == goodOf_) { // the reference itself was run anew
                                                      goodOf_ = 0;
                                                      loadGood();
                                                  }
                                              });
                         }
                         finish(std::make_shared<const RunResult>(resultFor(*result, plan_.plan())), why);
                     };
                 });
}

void RunDesk::finish(std::shared_ptr<const RunResult> result, Why why) {
    int kept = -1; // the finding looked at, among the new ones
    const Subject& subject = *build_.subject();
    if (const Finding* looked = findingAt(finding_); why == Why::JudgeAgain && looked) {
        std::vector<FindingMark> now;
        for (const Finding& f : result->findings)
            now.push_back(markOf(subject, f));
        const auto match = matchFindings(now, {markOf(subject, *looked)});
        kept = static_cast<int>(std::find(match.begin(), match.end(), 0) - match.begin());
        kept = kept < static_cast<int>(match.size()) ? kept : -1;
    }
    run_ = std::move(result);
    view_.setRun(run_);
    arriving_.clear();
    finding_ = kept;
    matchDefects();
    if (run_->cancelled)
        tell(tr("Run stopped: the motions that were finished are shown. “Run the plan” goes on from there."));
    if (run_->posesMeasured > run_->plan.stepCount() / 2 && !run_->cancelled)
        pace_ = run_->seconds / static_cast<double>(run_->posesMeasured);
    if (why == Why::Measure)
        runAt_ = QDateTime::currentDateTime();
    tellJoint();
    emit runChanged(QPrivateSignal());
    if (why == Why::Measure && !run_->faults.empty() && motion_ <= 0 && poseAt_ == 0)
        showFinding(run_->faults.front().signs.front());
}

// What was measured of motions that stay as they are stays; the motion looked at keeps being looked at,
// wherever it now stands.
void RunDesk::takePlan() {
    arriving_.clear();
    if (run_) {
        finding_ = -1;
        run_ = std::make_shared<const RunResult>(resultFor(*run_, plan_.plan()));
        view_.setRun(run_);
        matchDefects();
    }
    if (motion_ < 0)
        return;
    motion_ = plan_.plan().find(motionId_);
    if (const Motion* m = motionShown()) {
        poseAt_ = std::min(poseAt_, m->limit());
    } else if (!plan_.plan().motions.empty()) {
        motion_ = 0;
        motionId_ = plan_.plan().motions.front().id;
        poseAt_ = 0;
    }
    look();
}

std::vector<PlanChange> RunDesk::changesSinceRun() const {
    return ranPlan() ? planChanges(*ranPlan_, plan_.plan()) : std::vector<PlanChange>{};
}

RunCost RunDesk::cost() const {
    return build_.subject() ? runCost(*build_.subject(), plan_.plan(), pace_) : RunCost{};
}

RunCost RunDesk::costOfWhatIsOpen() const {
    if (!build_.subject())
        return {};
    Plan open = plan_.plan();
    for (std::size_t m = 0; m < open.motions.size(); ++m)
        open.motions[m].on = open.motions[m].on && !resultOf(static_cast<int>(m));
    return runCost(*build_.subject(), open, pace_);
}

void RunDesk::testVariants() {
    if (!build_.build() || build_.variants().empty())
        return;
    jobs().cancel();
    jobs().start(
        tr("Testing %n variants", nullptr, int(build_.variants().size())),
        [this, build = build_.build(), variants = build_.variants(), plan = plan_.plan(), method = method(),
         limits = limits_, corrections = build_.corrections()](JobControl& control) -> std::function<void()> {
            RunOptions options;
            options.method = method;
            options.limits = limits;
            options.cancel = &control.cancelled;
            options.store = measured();
            options.progress = [&](const RunProgress& p) { control.tell(p.done, p.total, 0); };
            std::vector<VariantResult> results;
            runVariants(build, corrections, variants, plan, options, [&](const VariantRun& r) {
                VariantResult out;
                out.name = r.variant ? QString::fromStdString(r.variant->name) : QString();
                out.faults = static_cast<int>(r.run.faults.size());
                for (const Fault& f : r.run.faults)
                    out.worst = std::max(out.worst, f.severity);
                out.fresh = static_cast<int>(r.fresh.size());
                for (int f : r.fresh)
                    out.new_.push_back(QString::fromStdString(sentence(
                        r.subject, r.run.plan, r.run.findings, r.run.faults[static_cast<std::size_t>(f)])));
                out.curves = troubleCurves(r, limits);
                results.push_back(std::move(out));
            });
            return [this, build, variants, plan, results, stopped = control.cancelled.load()] {
                if (build != build_.build())
                    return;
                variantResults_ = results;
                variantPlan_ = plan;
                tested_ = variants;
                if (stopped)
                    tell(tr("Stopped: the variants that were tested are shown."));
                emit variantsTested(QPrivateSignal());
            };
        });
}

void RunDesk::setPose(int motion, double at) {
    const Motion* m = plan_.motion(motion);
    if (!build_.subject() || !m)
        return;
    at = std::clamp(at, 0.0, m->limit());
    if (motion == motion_ && at == poseAt_ && freeJoint_ < 0)
        return;
    motion_ = motion;
    motionId_ = m->id;
    poseAt_ = at;
    freeJoint_ = -1;
    tellJoint();
    emit poseChanged(QPrivateSignal());
    look();
}

void RunDesk::setFreePose(const Pose& pose, int joint, double at, const QString& name) {
    motion_ = -1;
    freeJoint_ = joint;
    poseAt_ = at;
    freePose_ = pose;
    freeName_ = name;
    tellJoint();
    emit poseChanged(QPrivateSignal());
    look();
}

int RunDesk::joint() const {
    const Motion* m = motionShown();
    if (!m)
        return freeJoint_;
    const Finding* f = findingAt(finding_);
    return f && f->motion == motion_ ? f->joint : m->turns.front().joint;
}

void RunDesk::tellJoint() { view_.setJoint(joint()); }

void RunDesk::look() {
    if (!build_.subject())
        return;
    AskedPose asked;
    asked.motion = motion_;
    asked.at = poseAt_;
    if (const Motion* m = motionShown()) {
        asked.pose = hobble::poseAt(build_.subject()->character->skeleton, *m, poseAt_);
        for (const JointTurn& t : m->turns)
            asked.joints.push_back(t.joint);
        asked.moved = std::make_shared<const Motion>(*m);
    } else {
        asked.pose = freePose_;
        if (freeJoint_ >= 0)
            asked.joints.push_back(freeJoint_);
    }
    view_.show(std::move(asked));
}

const Finding* RunDesk::findingAt(int index) const {
    return run_ && index >= 0 && index < static_cast<int>(run_->findings.size())
               ? &run_->findings[static_cast<std::size_t>(index)]
               : nullptr;
}

const Fault* RunDesk::faultOf(int index) const {
    const Finding* f = findingAt(index);
    return f && f->fault >= 0 ? &run_->faults[static_cast<std::size_t>(f->fault)] : nullptr;
}

void RunDesk::selectFinding(int finding) {
    if (!run_ || finding >= static_cast<int>(run_->findings.size()) || finding == finding_)
        return;
    finding_ = finding;
    tellJoint();
    emit findingChanged(QPrivateSignal());
}

void RunDesk::showFinding(int finding) {
    if (!findingAt(finding))
        return;
    if (finding == finding_)
        emit findingChanged(QPrivateSignal()); // asked for again: it is to be framed again
    selectFinding(finding);
    setPose(run_->findings[static_cast<std::size_t>(finding)].motion,
            run_->findings[static_cast<std::size_t>(finding)].peak);
}

void RunDesk::loadEarlier() {
    earlier_.reset();
    const qint64 id = log_.build().id;
    if (!log_.link().canRead() || !build_.build() || !id)
        return;
    log_.link().tell(
        [id, build = build_.build()](ProductionLog& log) -> Result<std::optional<Earlier>> {
            const auto kept = log.runBefore(id);
            if (!kept)
                return Error{kept.error()};
            if (!*kept)
                return std::optional<Earlier>();
            auto curves = curvesFromJson((*kept)->curves.toStdString(), build->skeleton);
            if (!curves)
                return Error{tr("The run of build %1 in the log cannot be laid beside this one: %2.")
                                 .arg((*kept)->build.number)
                                 .arg(QString::fromStdString(curves.error()))
                                 .toStdString()};
            return std::optional(Earlier{(*kept)->build.number, std::move(*curves)});
        },
        [this, id, build = build_.build()](Result<std::optional<Earlier>> read) {
            if (id != log_.build().id || build != build_.build())
                return;
            if (!read)
                return fail(read.error());
            earlier_ = std::move(*read);
            if (earlier_)
                emit runChanged(QPrivateSignal());
        });
}

void RunDesk::loadGood() {
    const auto& reference = log_.reference();
    const qint64 wanted = reference ? reference->build.id : 0;
    if (goodOf_ == wanted)
        return;
    goodOf_ = wanted;
    const bool had = good_.has_value();
    good_.reset();
    if (!reference) {
        if (had)
            emit runChanged(QPrivateSignal());
        return;
    }
    log_.link().tell(
        [of = *reference](ProductionLog& log) -> Result<std::optional<GoodBuild>> {
            const auto kept = log.newestRun(of.build.id);
            if (!kept)
                return Error{kept.error()};
            if (!*kept)
                return std::optional<GoodBuild>();
            auto curves = curvesFromJson((*kept)->curves.toStdString());
            if (!curves)
                return Error{tr("The run of the reference cannot be laid behind this one: %1.")
                                 .arg(QString::fromStdString(curves.error()))
                                 .toStdString()};
            return std::optional(GoodBuild{of, std::move(*curves)});
        },
        [this, of = *reference](Result<std::optional<GoodBuild>> read) {
            if (of.build.id != goodOf_)
                return;
            if (!read)
                return fail(read.error());
            good_ = std::move(*read);
            if (!good_)
                return tell(tr("The reference, %1, build %2, has no run in this log: open it once, and its "
                               "curves stand behind the strips.")
                                .arg(of.build.character)
                                .arg(of.build.number));
            emit runChanged(QPrivateSignal());
        });
}

} // namespace hobble
