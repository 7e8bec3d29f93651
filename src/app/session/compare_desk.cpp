#include "app/session/compare_desk.h"

#include "app/session/trial_shelf.h"
#include "core/mend/trial_run.h"
#include "io/character_read.h"
#include "io/plan_json.h"
#include "story/defect_pose.h"

#include <QFileInfo>

namespace hobble {

CompareDesk::CompareDesk(Shared& shared, BuildDesk& build, PlanDesk& plan, RunDesk& run, LogDesk& log)
    : Desk(shared), build_(build), plan_(plan), run_(run), log_(log) {
    connect(&build, &BuildDesk::subjectReplaced, this, [this](BuildDesk::Change change) {
        if (change == BuildDesk::Change::Opened) {
            // the next build of one character is compared with what came before it, another one with nothing
            against_ = {};
            declined_ = false;
            checks_.reset();
            said_.clear();
            shownCheck_ = 0;
            motion_ = joint_ = -1;
            poseAt_ = 0;
        }
        if (keptOf_.what == Against::Variant || keptOf_.what == Against::Trial)
            keptOf_ = {}; // of the build that was open
        checkedRun_.reset();
        drop({});
    });
    connect(&build, &BuildDesk::characterSettled, this, [this] {
        emit comparisonChanged(QPrivateSignal());
        emit checksChanged(QPrivateSignal());
        readSignOffs();
    });
    connect(&run, &RunDesk::runChanged, this, &CompareDesk::runCame);
    connect(&log, &LogDesk::opened, this, [this] {
        checks_.reset();
        said_.clear();
        checkedRun_.reset();
        emit checksChanged(QPrivateSignal());
        readSignOffs();
        checkAgain();
    });
    connect(&log, &LogDesk::logChanged, this, &CompareDesk::readSignOffs);
}

void CompareDesk::runCame() {
    const auto& run = run_.run();
    if (!run || run->cancelled || run == asked_)
        return;
    if (chosen())
        begin();
    if (run != checkedRun_)
        checkAgain();
}

void CompareDesk::drop(const QString& why) {
    comparison_.reset();
    asked_.reset();
    whyNot_ = why;
    comparing_ = false;
    before_.setSubject(nullptr);
    now_.setSubject(nullptr);
}

void CompareDesk::set(const Against& against) {
    shownWhenCome_ = 0;
    against_ = against;
    declined_ = false;
    drop({});
    begin();
    emit comparisonChanged(QPrivateSignal());
}

void CompareDesk::againstBuild(qint64 id) {
    for (const BuildState& b : build_.builds())
        if (b.build.id == id)
            return set({Against::Build, id, b.build.number, b.build.path, b.build.hash});
    fail(tr("The log does not know that build."));
}

void CompareDesk::againstFile(const QString& path) { set({Against::File, 0, 0, path, {}}); }
void CompareDesk::leftAgainstRight() { set({Against::LeftRight, 0, 0, {}, {}}); }
void CompareDesk::againstOtherMethod() { set({Against::Method, 0, 0, {}, {}}); }

void CompareDesk::againstVariant(const Variant& variant) { set({Against::Variant, 0, 0, {}, {}, variant}); }

void CompareDesk::ofTrial(const hobble::Trial& trial) { set({Against::Trial, 0, 0, {}, {}, {}, trial}); }

void CompareDesk::againstNothing() {
    against_ = {};
    declined_ = true;
    drop({});
    emit comparisonChanged(QPrivateSignal());
}

void CompareDesk::againstLastBuild() {
    if (chosen() || declined_ || !build_.subject())
        return;
    const BuildState* last = nullptr;
    for (const BuildState& b : build_.builds())
        if (b.build.number < build_.number() && (!last || b.build.number > last->build.number))
            last = &b;
    if (last)
        againstBuild(last->build.id);
}

QString CompareDesk::buildName() const {
    return build_.number() > 0 ? tr("build %1").arg(build_.number()) : build_.title();
}

QString CompareDesk::beforeName() const {
    switch (against_.what) {
    case Against::Build:
        return tr("build %1").arg(against_.number);
    case Against::File:
        return QFileInfo(against_.path).fileName();
    case Against::LeftRight:
        return tr("left");
    case Against::Method:
        return run_.method() == Skinning::Linear ? tr("dual quaternions") : tr("linear skinning");
    case Against::Variant:
        return against_.variant.changesNothing() ? tr("the build itself")
                                                 : QString::fromStdString(against_.variant.name);
    case Against::Trial:
        return buildName();
    case Against::Nothing:
        break;
    }
    return {};
}

QString CompareDesk::nowName() const {
    switch (against_.what) {
    case Against::LeftRight:
        return tr("right");
    case Against::Method:
        return run_.method() == Skinning::Linear ? tr("linear skinning") : tr("dual quaternions");
    case Against::Variant:
        return build_.wornName().isEmpty() ? tr("the build itself") : build_.wornName();
    case Against::Trial:
        return nameOf(against_.trial);
    default:
        return buildName();
    }
}

void CompareDesk::begin() {
    const auto run = run_.run();
    if (!chosen() || !run || run->cancelled || !build_.subject())
        return;
    comparing_ = true;
    asked_ = run;
    const ComparedSide kept = keptOf_ == against_ ? kept_ : ComparedSide{};
    jobs().start(
        against_.what == Against::LeftRight ? tr("Comparing left and right")
                                            : tr("Comparing with %1").arg(beforeName()),
        [this, against = against_, kept, subject = build_.subject(), run,
         asked = run_.ranPlan() ? *run_.ranPlan() : run->plan, method = run_.method(), limits = run_.limits(),
         build = build_.build(),
         corrections = build_.corrections()](JobControl& control) -> std::function<void()> {
            const Progress progress = progressOf(control);
            const auto givenUp = [this, against, run](const QString& why) -> std::function<void()> {
                return [this, against, run, why] {
                    if (against != against_ || run != asked_)
                        return;
                    drop(why);
                    emit comparisonChanged(QPrivateSignal());
                };
            };
            const ComparedSide open{subject, run};
            ComparedSide other = kept;
            ComparisonOptions options;
            options.limits = limits;
            RunOptions otherwise;
            otherwise.method = method;
            otherwise.limits = limits;
            otherwise.cancel = &control.cancelled;
            otherwise.store = measured();
            otherwise.progress = [&](const RunProgress& p) { control.tell(p.done, p.total, p.secondsLeft); };
            const auto tried = [&](const hobble::Trial& trial) { // only what its steps touch is run again
                TrialRun on(subject, asked, run, *measured());
                const TrialState state = on.make(trial, progress.within(0, 0.3));
                return progress.stopped() ? ComparedSide{} : on.measure(state, CureGoal{}, otherwise).now;
            };
            switch (against.what) {
            case Against::LeftRight:
                other = open;
                options.versus = Versus::LeftAndRight;
                break;
            case Against::Method:
                otherwise.method = method == Skinning::Linear ? Skinning::DualQuaternion : Skinning::Linear;
                other = {subject, std::make_shared<const RunResult>(runPlan(*subject, run->plan, otherwise))};
                options.versus = Versus::Method;
                break;
            case Against::Variant:
                if (!other.subject) {
                    other.subject = std::make_shared<const Subject>(
                        prepareSubject(std::make_shared<const Character>(varied(*build, against.variant)),
                                       progress.within(0, 0.3), corrections));
                    if (progress.stopped())
                        return givenUp(tr("Comparing was stopped."));
                }
                other.run = std::make_shared<const RunResult>(runPlan(*other.subject, run->plan, otherwise));
                options.versus = Versus::Variant;
                break;
            case Against::Trial:
                other = tried(against.trial);
                if (!other.run)
                    return givenUp(tr("Comparing was stopped."));
                options.versus = Versus::Variant;
                break;
            default: {
                if (!other.subject) {
                    ReadSettings settings;
                    settings.progress = progress.within(0, 0.4);
                    auto read = readCharacter(against.path.toStdString(), settings);
                    if (wasStopped(read))
                        return givenUp(tr("Comparing was stopped."));
                    if (!read)
                        return givenUp(QString::fromStdString(read.error()));
                    if (!against.hash.isEmpty() && against.hash != QString::fromStdString(read->hash) &&
                        against.hash != QString::fromStdString(read->formerHash))
                        return givenUp(
                            tr("%1 is not build %2 any more: something else was written there. Show where "
                               "that build is, under Builds on the Intake page.")
                                .arg(against.path)
                                .arg(against.number));
                    other.subject = std::make_shared<const Subject>(
                        prepareSubject(std::make_shared<const Character>(std::move(*read)),
                                       progress.within(0.4, 1), corrections));
                    if (progress.stopped())
                        return givenUp(tr("Comparing was stopped."));
                }
                // The plan as it is here; another character has its own.
                const JointPairing joints = pairJoints(*subject, *other.subject);
                std::vector<std::string> left;
                auto plan = planFromJson(planToJson(run->plan, *subject->character),
                                         *other.subject->character, &left);
                Plan wanted = plan && !plan->motions.empty() ? std::move(*plan) : Plan{};
                if (!joints.sameBody) // axes are the joint's own: elsewhere they turn it otherwise
                    wanted = fullPlan(*other.subject->character, other.subject->roles);
                other.run = std::make_shared<const RunResult>(runPlan(*other.subject, wanted, otherwise));
            }
            }
            if (control.cancelled)
                return givenUp(tr("Comparing was stopped."));
            const ComparedSides sides =
                against.what == Against::Trial ? ComparedSides{open, other} : ComparedSides{other, open};
            auto comparison = std::make_shared<const Comparison>(compare(sides, options, progress));
            if (control.cancelled)
                return givenUp(tr("Comparing was stopped."));
            return [this, against, run, other, comparison] {
                if (against != against_ || run != asked_)
                    return;
                keptOf_ = against;
                kept_ = other;
                take(comparison);
            };
        });
    emit comparisonChanged(QPrivateSignal());
}

void CompareDesk::take(std::shared_ptr<const Comparison> comparison) {
    comparing_ = false;
    comparison_ = std::move(comparison);
    whyNot_.clear();
    const auto& [before, now] = comparison_->sides;
    for (auto [view, side] : {std::pair(&before_, &before), std::pair(&now_, &now)}) {
        view->setSubject(side->subject);
        view->setMethod(side->run->method);
        view->setRun(side->run);
        view->setStore(measured(), floorsFor(run_.limits()));
    }
    // where the most changed, worse before better
    const MotionChange* most = nullptr;
    for (const MotionChange& m : comparison_->differences.motions)
        if (m.verdict != Change::Same && (!most || m.change > most->change))
            most = &m;
    if (most && most->verdict == Change::Better)
        for (const MotionChange& m : comparison_->differences.motions)
            if (m.verdict != Change::Same && m.change < most->change)
                most = &m;
    // what was looked at before, where both have it
    int motion = std::any_of(comparison_->differences.motions.begin(), comparison_->differences.motions.end(),
                             [&](const MotionChange& m) { return m.motion[1] == motion_; })
                     ? motion_
                     : -1;
    double at = motion < 0 ? 0 : poseAt_;
    if (motion < 0 && most) {
        motion = most->motion[1];
        for (const MeasureChange& m : comparison_->differences.measures)
            if (m.motion[1] == motion && m.change == most->change) {
                at = m.at;
                joint_ = m.joint[1];
            }
    }
    motion_ = -1;
    emit comparisonChanged(QPrivateSignal());
    if (motion < 0 && !comparison_->differences.motions.empty())
        motion = comparison_->differences.motions.front().motion[1];
    setPose(std::max(motion, 0), at);
    if (const qint64 defect = std::exchange(shownWhenCome_, 0))
        showCheck(defect);
}

const Motion* CompareDesk::motionShown() const {
    if (!comparison_ || motion_ < 0)
        return nullptr;
    const auto& motions = comparison_->sides[1].run->plan.motions;
    return static_cast<std::size_t>(motion_) < motions.size() ? &motions[static_cast<std::size_t>(motion_)]
                                                              : nullptr;
}

void CompareDesk::setPose(int motion, double at) {
    if (!comparison_)
        return;
    const auto& motions = comparison_->sides[1].run->plan.motions;
    if (motion < 0 || static_cast<std::size_t>(motion) >= motions.size())
        return;
    const Motion& m = motions[static_cast<std::size_t>(motion)];
    at = std::clamp(at, 0.0, m.limit());
    if (motion == motion_ && at == poseAt_)
        return;
    if (motion != motion_ &&
        (joint_ < 0 ||
         std::none_of(m.turns.begin(), m.turns.end(), [&](const JointTurn& t) { return t.joint == joint_; })))
        joint_ = m.turns.front().joint;
    motion_ = motion;
    poseAt_ = at;
    shownCheck_ = 0;
    emit poseChanged(QPrivateSignal());
    look();
}

void CompareDesk::lookAtJoint(int joint) {
    joint_ = joint;
    emit poseChanged(QPrivateSignal());
    look();
}

void CompareDesk::look() {
    if (!comparison_)
        return;
    int was = -1;
    for (const MotionChange& m : comparison_->differences.motions)
        if (m.motion[1] == motion_)
            was = m.motion[0];
    const std::array<int, 2> motions{was, motion_};
    const std::array<PoseView*, 2> views{&before_, &now_};
    for (std::size_t s = 0; s < 2; ++s) {
        const ComparedSide& side = comparison_->sides[s];
        AskedPose asked;
        asked.motion = motions[s];
        if (motions[s] >= 0) {
            const Motion& m = side.run->plan.motions[static_cast<std::size_t>(motions[s])];
            asked.at = std::min(poseAt_, m.limit());
            asked.pose = hobble::poseAt(side.subject->character->skeleton, m, asked.at);
            asked.moved = std::make_shared<const Motion>(m);
            for (const JointTurn& t : m.turns)
                asked.joints.push_back(t.joint);
        } else {
            asked.pose = Pose::neutral(side.subject->character->skeleton);
        }
        const int joint = s == 1 || joint_ < 0
                              ? joint_
                              : comparison_->onBefore.joints.other[static_cast<std::size_t>(joint_)];
        views[s]->setJoint(joint);
        views[s]->show(std::move(asked));
    }
}

} // namespace hobble
