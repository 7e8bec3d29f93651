// What the session does with the plan: changing it, its versions in the log, and the variants it is tested
// on.
#include "app/session/log_command.h"
#include "app/session/plan_desk.h"
#include "app/session/session.h"
#include "core/judge/matching.h"
#include "core/run/result_for.h"
#include "io/file_read.h"
#include "io/file_write.h"
#include "io/plan_json.h"
#include "io/run_json.h"
#include "io/variant_json.h"
#include "log/file_name.h"

#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>

namespace hobble {

Plan Session::standardPlan() const { return built_ ? fullPlan(*built_, subject_->roles) : Plan{}; }

RunCost Session::cost() const { return subject_ ? runCost(*subject_, plan_, pace_) : RunCost{}; }

RunCost Session::costOfWhatIsOpen() const {
    if (!subject_)
        return {};
    Plan open = plan_;
    for (std::size_t m = 0; m < open.motions.size(); ++m)
        open.motions[m].on = open.motions[m].on && !resultOf(static_cast<int>(m));
    return runCost(*subject_, open, pace_);
}

std::vector<PlanChange> Session::changesSinceRun() const {
    return ranPlan() ? planChanges(*ranPlan_, plan_) : std::vector<PlanChange>{};
}

bool Session::setPlan(const Plan& plan) {
    // the motion looked at keeps being looked at, wherever it now stands
    const std::string looked = motion_ >= 0 && motion_ < static_cast<int>(plan_.motions.size())
                                   ? plan_.motions[static_cast<std::size_t>(motion_)].id
                                   : std::string();
    jobs_.cancel();
    arriving_.clear();
    plan_ = plan;
    if (run_) {
        finding_ = -1;
        run_ = std::make_shared<const RunResult>(resultFor(*run_, plan_));
        matchDefects();
    }
    if (motion_ >= 0) {
        motion_ = plan_.find(looked);
        if (motion_ >= 0) {
            degrees_ = std::min(degrees_, plan_.motions[static_cast<std::size_t>(motion_)].limit());
        } else if (!plan_.motions.empty()) {
            motion_ = 0;
            degrees_ = 0;
        }
        emit poseChanged();
        requestFrame();
    }
    desk_->takePlan();
    emit planChanged();
    emit runChanged();
    return true;
}

void Session::changePlan(const Plan& plan, const QString& what) {
    if (!subject_)
        return;
    const Plan before = plan_;
    const auto forth = [=, this] {
        setPlan(plan);
        keepPlan({});
        return true;
    };
    const auto back = [=, this] {
        setPlan(before);
        keepPlan({});
        return true;
    };
    forth();
    undo_.push(new LogCommand(what, forth, back));
}

void Session::keepPlan(const QString& note) {
    if (!link_.canRead() || !subject_)
        return;
    if (link_.state() == LogState::ReadOnly)
        return; // said when it was opened
    const qint64 basedOn = planVersions_.isEmpty() ? 0 : planVersions_.front().id;
    const auto kept = link_.ask([name = QString::fromStdString(built_->name),
                                 json = QByteArray::fromStdString(planToJson(plan_, *built_)), by = author(),
                                 note, basedOn](ProductionLog& log) {
        return log.keepPlan(name, json, by, note, !note.isNull(), basedOn);
    });
    if (!kept)
        fail(kept.error());
    refreshPlanVersions();
    emit planChanged();
}

void Session::refreshPlanVersions() {
    if (!link_.canRead() || !built_)
        return;
    auto known = link_.ask(
        [name = QString::fromStdString(built_->name)](ProductionLog& log) { return log.plans(name); });
    if (!known)
        return fail(known.error());
    planVersions_ = std::move(*known);
}

// The newest plan of the team, where there is one; what it names and this build lacks is told, and left out.
void Session::loadPlan() {
    refreshPlanVersions();
    desk_->takeCharacter();
    if (planVersions_.isEmpty())
        return;
    std::vector<std::string> left;
    const auto plan = planFromJson(planVersions_.front().plan.toStdString(), *built_, &left);
    if (!plan || plan->motions.empty())
        return void(emit told(tr("The kept plan fits no joint of this build; the standard plan is used.")));
    plan_ = *plan;
    desk_->takePlan();
    if (!left.empty())
        emit told(left.size() == 1 ? QString::fromStdString(left.front())
                                   : tr("%1 motions of the kept plan are left out, the first: %2")
                                         .arg(left.size())
                                         .arg(QString::fromStdString(left.front())));
}

void Session::takePlanVersion(qint64 id) {
    for (const PlanVersion& v : planVersions_) {
        if (v.id != id)
            continue;
        std::vector<std::string> left;
        const auto plan = planFromJson(v.plan.toStdString(), *built_, &left);
        if (!plan)
            return fail(tr("Version %1 cannot be used: %2.")
                            .arg(v.version)
                            .arg(QString::fromStdString(plan.error()))
                            .toStdString());
        return changePlan(*plan, tr("take plan version %1").arg(v.version));
    }
}

QString Session::variantsFolder() {
    return QStandardPaths::writableLocation(QStandardPaths::AppConfigLocation) + QStringLiteral("/variants");
}

namespace {

QString variantsFile(const QString& folder, const std::string& character) {
    return folder + QLatin1Char('/') + safeFileName(QString::fromStdString(character)) +
           QStringLiteral(".json");
}

} // namespace

void Session::loadVariants() {
    variants_.clear();
    const QString file = variantsFile(variantsFolder(), built_->name);
    if (!QFile::exists(file))
        return;
    if (auto kept = readVariants(file.toStdString()))
        variants_ = std::move(*kept);
    else
        fail(kept.error());
    emit variantsChanged();
}

bool Session::setVariantList(const std::vector<Variant>& variants) {
    const bool inUse = variant_ >= 0;
    const std::string used = inUse ? variants_[static_cast<std::size_t>(variant_)].name : std::string();
    const Variant was = inUse ? variants_[static_cast<std::size_t>(variant_)] : Variant{};
    variants_ = variants;
    variantResults_.clear();
    QDir().mkpath(variantsFolder());
    if (auto written =
            writeFile(variantsFile(variantsFolder(), built_->name).toStdString(), variantsToJson(variants));
        !written)
        fail(written.error());
    if (inUse) {
        const auto now = std::find_if(variants_.begin(), variants_.end(),
                                      [&](const Variant& v) { return v.name == used; });
        const int at = now == variants_.end() ? -1 : static_cast<int>(now - variants_.begin());
        variant_ = at < 0 ? 0 : at; // so that using it is a change
        if (at < 0 || !(*now == was)) {
            variant_ = -2;
            useVariant(at);
        }
    }
    emit variantsChanged();
    return true;
}

void Session::setVariants(const std::vector<Variant>& variants) {
    if (!built_ || variants == variants_)
        return;
    const auto before = variants_;
    setVariantList(variants);
    undo_.push(new LogCommand(
        tr("change variants"), [=, this] { return setVariantList(variants); },
        [=, this] { return setVariantList(before); }));
}

void Session::useVariant(int variant) {
    if (!built_ || variant == variant_ || variant >= static_cast<int>(variants_.size()))
        return;
    const Variant wanted = variant >= 0 ? variants_[static_cast<std::size_t>(variant)] : Variant{};
    jobs_.cancel();
    jobs_.start(tr("Dressing %1").arg(characterTitle()),
                [this, variant, wanted, built = built_,
                 corrections = corrections_](JobControl& control) -> std::function<void()> {
                    const Progress progress{&control.cancelled, [&control](double share) {
                                                control.tell(static_cast<std::size_t>(1000 * share), 1000, 0);
                                            }};
                    auto character = wanted.changesNothing()
                                         ? built
                                         : std::make_shared<const Character>(varied(*built, wanted));
                    auto subject =
                        std::make_shared<const Subject>(prepareSubject(character, progress, corrections));
                    if (control.cancelled)
                        return {};
                    PoseRequest still;
                    still.subject = subject;
                    still.pose = Pose::neutral(character->skeleton);
                    auto neutral = std::make_shared<const PosedFrame>(computeFrame(still));
                    return [this, variant, built, subject, neutral] {
                        if (built != built_)
                            return;
                        subject_ = subject;
                        neutralFrame_ = neutral;
                        variant_ = variant;
                        run_.reset();
                        ranPlan_.reset();
                        frame_.reset();
                        detail_.reset();
                        arriving_.clear();
                        finding_ = -1;
                        matchDefects();
                        emit characterChanged();
                        emit variantsChanged();
                        emit runChanged();
                        emit planChanged();
                        const int motion = std::max(motion_, 0);
                        motion_ = -1;
                        if (plan_.motions.empty())
                            return;
                        setPose(motion, degrees_);
                        startRun();
                    };
                });
}

// The plan over the build and every variant of it. What only a variant shows is what the lead wants to know.
void Session::testVariants() {
    if (!built_ || variants_.empty())
        return;
    jobs_.cancel();
    jobs_.start(tr("Testing %1 variants").arg(variants_.size()),
                [this, built = built_, variants = variants_, plan = plan_, method = method_, limits = limits_,
                 corrections = corrections_](JobControl& control) -> std::function<void()> {
                    std::vector<VariantResult> results;
                    std::vector<FindingMark> known;
                    for (std::size_t i = 0; i <= variants.size() && !control.cancelled; ++i) {
                        const Variant wanted = i > 0 ? variants[i - 1] : Variant{};
                        const Progress progress{&control.cancelled, {}};
                        const Subject subject = prepareSubject(
                            std::make_shared<const Character>(varied(*built, wanted)), progress, corrections);
                        if (control.cancelled)
                            break;
                        RunOptions options;
                        options.method = method;
                        options.limits = limits;
                        options.cancel = &control.cancelled;
                        options.store = measured_.get();
                        options.progress = [&](const RunProgress& p) {
                            control.tell(i * p.total + p.done, (variants.size() + 1) * p.total, 0);
                        };
                        const RunResult run = runPlan(subject, plan, options);
                        if (run.cancelled)
                            break;
                        std::vector<FindingMark> marks;
                        for (const Finding& f : run.findings)
                            marks.push_back(markOf(subject, f));
                        VariantResult result;
                        result.name = i > 0 ? QString::fromStdString(wanted.name) : QString();
                        result.findings = static_cast<int>(run.findings.size());
                        for (const Finding& f : run.findings)
                            result.worst = std::max(result.worst, f.severity);
                        if (i == 0) {
                            known = marks;
                        } else {
                            const auto match = matchFindings(marks, known);
                            for (std::size_t f = 0; f < match.size(); ++f)
                                if (match[f] < 0) {
                                    ++result.fresh;
                                    result.new_.push_back(
                                        QString::fromStdString(sentence(subject, run.plan, run.findings[f])));
                                }
                        }
                        results.push_back(std::move(result));
                    }
                    return [this, built, results, stopped = control.cancelled.load()] {
                        if (built != built_)
                            return;
                        variantResults_ = results;
                        if (stopped)
                            emit told(tr("Stopped: the variants that were tested are shown."));
                        emit variantsChanged();
                    };
                });
}

} // namespace hobble
