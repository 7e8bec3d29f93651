#include "app/session/mend_desk.h"

#include "core/words/finding_words.h"
#include "io/trial_json.h"

#include <QFileInfo>

#include <algorithm>

namespace hobble {

namespace {

/// The finding a trial's aim tells of, in a run; −1 when it is not found any more.
int findingOf(const TrialAim& aim, const RunResult& run, const Subject& s) {
    const int joint = aim.joint.empty() ? -1 : s.character->skeleton.find(aim.joint);
    int best = -1;
    for (int i = 0; i < static_cast<int>(run.findings.size()); ++i) {
        const Finding& f = run.findings[static_cast<std::size_t>(i)];
        if (f.joint != joint || (!aim.kind.empty() && aim.kind != factsOf(f.kind).word))
            continue;
        if (aim.motion.empty() || run.plan.motions[static_cast<std::size_t>(f.motion)].id == aim.motion)
            return i;
        if (best < 0)
            best = i;
    }
    return best;
}

/// What a finding is a sign of is cured as a whole; what stands alone, alone.
CureGoal goalFor(const RunResult& run, int finding) {
    const int fault = run.findings[static_cast<std::size_t>(finding)].fault;
    return fault >= 0 && static_cast<std::size_t>(fault) < run.faults.size()
               ? goalOf(run, run.faults[static_cast<std::size_t>(fault)])
               : goalOf(run, finding);
}

QString capital(QString words) {
    if (!words.isEmpty())
        words[0] = words[0].toUpper();
    return words;
}

} // namespace

MendDesk::MendDesk(Shared& shared, BuildDesk& build, PlanDesk& plan, RunDesk& run, LogDesk& log)
    : Desk(shared), build_(build), plan_(plan), run_(run), log_(log) {
    connect(&build, &BuildDesk::subjectReplaced, this, &MendDesk::takeSubject);
    connect(&run, &RunDesk::runChanged, this, &MendDesk::takeRun);
    connect(&run, &RunDesk::methodChanged, this, [this] {
        view_.setMethod(run_.method());
        buildView_.setMethod(run_.method());
    });
    connect(&log, &LogDesk::logChanged, this, [this] { emit aimChanged(QPrivateSignal()); });
    connect(&worker_, &MendWorker::made, this,
            [this](std::uint64_t ticket, const std::shared_ptr<const TrialState>& state) {
                if (!on_ || ticket <= before_)
                    return; // of a build closed meanwhile
                state_ = state;
                if (joint_ >= state_->subject->character->skeleton.size())
                    takeInHand(-1); // it was one that a step had added
                if (ticket == ticket_ && shownCure_ < 0 && !previewed_)
                    effects_ = state->effects;
                if (!beforeShown_)
                    view_.exchange(state->subject);
                emit madeChanged(QPrivateSignal());
            });
    connect(&worker_, &MendWorker::motionMeasured, this,
            [this](std::uint64_t ticket, const ComparedSide& side) {
                if (ticket != ticket_)
                    return;
                single_ = side;
                emit measuredChanged(QPrivateSignal());
            });
    connect(&worker_, &MendWorker::measured, this,
            [this](std::uint64_t ticket, const std::shared_ptr<const TrialMeasured>& all) {
                if (ticket != ticket_)
                    return;
                single_ = {};
                measured_ = all;
                measuring_ = false;
                emit measuredChanged(QPrivateSignal());
            });
    connect(&worker_, &MendWorker::weighed, this,
            [this](std::uint64_t ticket, const std::vector<double>& shares) {
                if (ticket != ticket_ || shownCure_ >= 0)
                    return;
                shares_ = shares;
                emit measuredChanged(QPrivateSignal());
            });
}

QString MendDesk::whyNot() const {
    if (!build_.subject())
        return tr("No character is open.");
    if (!build_.wearsNothing())
        return tr("A variant is worn. A trial is of the build itself: take it off on the Plan page.");
    if (!run_.run())
        return tr("It can be mended once its plan has been run: every change is measured against that.");
    if (run_.run()->cancelled)
        return tr("The run was stopped. Run the plan to its end (F5): every change is measured against it.");
    return {};
}

bool MendDesk::ready() {
    if (on_)
        return true;
    fail(whyNot());
    return false;
}

void MendDesk::takeSubject() {
    before_ = ++ticket_;
    forgetCures();
    on_.reset();
    trial_ = {};
    path_.clear();
    begun_ = false;
    goal_ = {};
    effects_.clear();
    shares_.clear();
    state_.reset();
    single_ = {};
    measured_.reset();
    measuring_ = previewed_ = beforeShown_ = false;
    shownCure_ = motion_ = joint_ = -1;
    poseAt_ = 0;
    savedBuild_.clear();
    view_.setSubject(nullptr);
    buildView_.setSubject(nullptr);
    emit aimChanged(QPrivateSignal());
    emit trialChanged(QPrivateSignal());
}

void MendDesk::takeRun() {
    const auto run = run_.run();
    if (!whyNot().isEmpty() || !run_.ranPlan()) {
        if (on_ && (!run || run->cancelled)) { // a run under way is waited for
            before_ = ++ticket_;
            on_.reset();
            measured_.reset(); // it was laid beside that run
            single_ = {};
            measuring_ = false;
            emit measuredChanged(QPrivateSignal());
        }
        return emit aimChanged(QPrivateSignal());
    }
    if (on_ && on_->run() == run)
        return;
    const bool first = view_.subject() == nullptr;
    before_ = ticket_;
    on_ = std::make_shared<TrialRun>(build_.subject(), *run_.ranPlan(), run, *measured());
    measured_.reset();
    single_ = {};
    forgetCures();
    if (first) {
        view_.setSubject(build_.subject());
        view_.setMethod(run->method);
    }
    view_.setRun(run);
    view_.setStore(measured(), floorsFor(run_.limits()));
    if (motion_ < 0 || static_cast<std::size_t>(motion_) >= run->plan.motions.size()) {
        motion_ = -1;
        setPose(run->findings.empty() ? 0 : run->findings.front().motion, 0);
    } else {
        look();
    }
    if (!begun_)
        if (const auto there = kept(); !there.isEmpty())
            return openTrial(there.front().path);
    findAim();
    ask(trial_, true);
}

const Finding* MendDesk::told() const {
    return on_ && !goal_.signs.empty() ? &on_->run()->findings[static_cast<std::size_t>(goal_.signs.front())]
                                       : nullptr;
}

QString MendDesk::aimWords() const {
    const Finding* f = told();
    QString words;
    if (f) {
        words = QString::fromStdString(sentence(*on_->build(), on_->run()->plan, *f));
        if (const auto cut = words.lastIndexOf(QStringLiteral(" in ")); cut > 0)
            words = words.left(cut);
        if (words.endsWith(QLatin1Char('.')))
            words.chop(1);
    } else if (!trial_.aim.joint.empty() && on_) {
        const int joint = on_->build()->character->skeleton.find(trial_.aim.joint);
        words = joint < 0 ? QString::fromStdString(trial_.aim.joint)
                          : capital(QString::fromStdString(jointWords(*on_->build(), joint)));
    } else {
        words = tr("The whole character");
    }
    return trial_.aim.defect > 0 ? tr("For defect %1: %2").arg(trial_.aim.defect).arg(words) : words;
}

QString MendDesk::aimNotes() const {
    QStringList parts;
    if (const Finding* f = told()) {
        const Motion& m = on_->run()->plan.motions[static_cast<std::size_t>(f->motion)];
        parts << tr("%1, from %2, worst at %3")
                     .arg(QString::fromStdString(wordsFor(m)), QString::fromStdString(wordsFor(m, f->onset)),
                          QString::fromStdString(wordsFor(m, f->peak)));
        if (goal_.signs.size() > 1)
            parts << (goal_.signs.size() == 2 ? tr("and one more sign")
                                              : tr("and %1 more signs").arg(goal_.signs.size() - 1));
    } else if (on_ && !trial_.aim.kind.empty()) {
        parts << tr("%1: not found on this build any more").arg(QString::fromStdString(trial_.aim.kind));
    } else if (on_ && !trial_.aim.joint.empty()) {
        parts << tr("nothing was found there; every measure is told all the same");
    }
    if (trial_.aim.defect > 0)
        if (const Defect* d = log_.find(trial_.aim.defect); d && !d->assignee.isEmpty())
            parts << tr("given to %1").arg(d->assignee);
    return parts.join(QStringLiteral(" · "));
}

Trial MendDesk::fresh() const {
    Trial out;
    out.build = build_.subject()->character->hash;
    return out;
}

void MendDesk::setGoal(CureGoal goal, TrialAim aim) {
    // one that was begun for the same is gone on with
    for (const KeptTrial& k : kept()) {
        TrialAim theirs = k.trial.aim;
        if (theirs.defect == 0 || aim.defect == 0)
            theirs.defect = aim.defect;
        if (theirs == aim && k.path != path_)
            return openTrial(k.path);
        if (theirs == aim)
            return emit aimChanged(QPrivateSignal());
    }
    Trial trial = fresh();
    trial.aim = std::move(aim);
    trial_ = std::move(trial);
    path_.clear();
    begun_ = true;
    goal_ = std::move(goal);
    effects_.clear();
    shares_.clear();
    shownCure_ = -1;
    forgetCures();
    if (const Finding* f = told()) {
        joint_ = f->joint;
        motion_ = -1;
        setPose(f->motion, f->peak);
    }
    emit aimChanged(QPrivateSignal());
    emit trialChanged(QPrivateSignal());
    ask(trial_, true);
    if (!goal_.signs.empty())
        search();
}

void MendDesk::beginFor(int finding) {
    if (!ready())
        return;
    const RunResult& run = *on_->run();
    if (finding < 0 || static_cast<std::size_t>(finding) >= run.findings.size())
        return setGoal({}, {});
    CureGoal goal = goalFor(run, finding);
    const Finding& f = run.findings[static_cast<std::size_t>(goal.signs.front())];
    TrialAim aim;
    aim.joint = on_->build()->character->skeleton.name[static_cast<std::size_t>(f.joint)];
    aim.motion = run.plan.motions[static_cast<std::size_t>(f.motion)].id;
    aim.kind = factsOf(f.kind).word;
    for (int sign : goal.signs)
        if (aim.defect == 0)
            aim.defect = run_.defectOf(sign);
    setGoal(std::move(goal), std::move(aim));
}

void MendDesk::beginForDefect(qint64 defect) {
    if (!ready())
        return;
    const RunResult& run = *on_->run();
    for (int i = 0; i < static_cast<int>(run.findings.size()); ++i)
        if (run_.defectOf(i) == defect)
            return beginFor(i);
    const Defect* d = log_.find(defect);
    if (!d)
        return fail(tr("The log has no defect %1.").arg(defect));
    // Not found by this run: seen by eye, of another kind, or cured. It is looked at where it was logged.
    TrialAim aim;
    aim.joint = d->facts.joint.toStdString();
    aim.motion = presentId(d->facts.motion.toStdString());
    aim.defect = defect;
    const double at = d->facts.degrees;
    const int motion = run.plan.find(aim.motion);
    joint_ = on_->build()->character->skeleton.find(aim.joint);
    setGoal({}, std::move(aim));
    if (motion >= 0) {
        motion_ = -1;
        setPose(motion, at);
    }
}

void MendDesk::beginAt(int joint) {
    if (!ready() || joint < 0 || joint >= on_->build()->character->skeleton.size())
        return;
    const RunResult& run = *on_->run();
    for (const Fault& f : run.faults)
        if (std::find(f.joints.begin(), f.joints.end(), joint) != f.joints.end())
            return beginFor(f.signs.front());
    TrialAim aim;
    aim.joint = on_->build()->character->skeleton.name[static_cast<std::size_t>(joint)];
    joint_ = joint;
    setGoal({}, std::move(aim));
    for (int m = 0; m < static_cast<int>(run.plan.motions.size()); ++m)
        if (run.plan.motions[static_cast<std::size_t>(m)].turns.front().joint == joint)
            return setPose(m, run.plan.motions[static_cast<std::size_t>(m)].limit());
}

// The goal of the trial as it is, in the run as it is.
void MendDesk::findAim() {
    goal_ = {};
    if (on_ && !trial_.aim.kind.empty())
        if (const int finding = findingOf(trial_.aim, *on_->run(), *on_->build()); finding >= 0)
            goal_ = goalFor(*on_->run(), finding);
    emit aimChanged(QPrivateSignal());
}

RunOptions MendDesk::options() const {
    RunOptions out;
    out.method = on_->run()->method;
    out.limits = run_.limits();
    return out;
}

void MendDesk::ask(const Trial& trial, bool measured, bool lastOnBothSides) {
    if (!on_)
        return;
    TrialAsk out;
    out.on = on_;
    out.trial = trial;
    out.goal = goal_;
    if (const Motion* m = motionShown())
        out.motion = m->id;
    out.options = options();
    out.measured = measured;
    out.lastOnBothSides = lastOnBothSides;
    out.ticket = ++ticket_;
    measuring_ = measured;
    worker_.ask(std::move(out));
    if (measured)
        emit measuredChanged(QPrivateSignal());
}

// The pose looked at

void MendDesk::showBefore(bool on) {
    if (on == beforeShown_ || !on_)
        return;
    beforeShown_ = on;
    view_.exchange(on ? on_->build() : state_ ? state_->subject : on_->build());
    emit madeChanged(QPrivateSignal());
}

const Motion* MendDesk::motionShown() const {
    if (!on_ || motion_ < 0)
        return nullptr;
    const auto& motions = on_->run()->plan.motions;
    return static_cast<std::size_t>(motion_) < motions.size() ? &motions[static_cast<std::size_t>(motion_)]
                                                              : nullptr;
}

void MendDesk::setPose(int motion, double at) {
    if (!on_)
        return;
    const auto& motions = on_->run()->plan.motions;
    if (motion < 0 || static_cast<std::size_t>(motion) >= motions.size())
        return;
    const Motion& m = motions[static_cast<std::size_t>(motion)];
    at = std::clamp(at, 0.0, m.limit());
    if (motion == motion_ && at == poseAt_)
        return;
    const bool other = motion != motion_;
    if (other && (joint_ < 0 || std::none_of(m.turns.begin(), m.turns.end(),
                                             [&](const JointTurn& t) { return t.joint == joint_; })))
        joint_ = m.turns.front().joint;
    motion_ = motion;
    poseAt_ = at;
    emit poseChanged(QPrivateSignal());
    look();
}

void MendDesk::takeInHand(int joint) {
    if (joint == joint_)
        return;
    joint_ = joint;
    view_.setJoint(joint);
    if (on_)
        buildView_.setJoint(joint < on_->build()->character->skeleton.size() ? joint : -1);
    emit poseChanged(QPrivateSignal());
}

void MendDesk::look() {
    const Motion* m = motionShown();
    if (!m)
        return;
    const Subject& s = *on_->build();
    AskedPose asked;
    asked.motion = motion_;
    asked.at = poseAt_;
    asked.pose = hobble::poseAt(s.character->skeleton, *m, poseAt_);
    asked.moved = std::make_shared<const Motion>(*m);
    for (const JointTurn& t : m->turns)
        asked.joints.push_back(t.joint);
    view_.setJoint(joint_);
    view_.show(std::move(asked));
    lookBeside();
}

void MendDesk::setBesideShown(bool on) {
    besideShown_ = on;
    lookBeside();
}

void MendDesk::lookBeside() {
    if (!besideShown_ || !on_)
        return;
    if (buildView_.subject() != on_->build()) {
        buildView_.setSubject(on_->build());
        buildView_.setMethod(run_.method());
    }
    buildView_.setRun(on_->run());
    buildView_.setStore(measured(), floorsFor(run_.limits()));
    buildView_.setJoint(joint_ < on_->build()->character->skeleton.size() ? joint_ : -1);
    buildView_.show(AskedPose(view_.asked()));
}

MendDesk::Sides MendDesk::sides() const {
    Sides out;
    if (!on_)
        return out;
    out.sides[0] = {on_->build(), on_->run()};
    out.motion[0] = motion_;
    const Motion* m = motionShown();
    if (!m)
        return out;
    if (single_.run && single_.run->plan.find(m->id) >= 0)
        out.sides[1] = single_;
    else if (measured_)
        out.sides[1] = measured_->now;
    if (out.sides[1].run)
        out.motion[1] = out.sides[1].run->plan.find(m->id);
    return out;
}

TroubleCurve MendDesk::curve(std::size_t side) const {
    const Sides all = sides();
    const int m = all.motion[side];
    if (m < 0 || !all.sides[side].run)
        return {};
    const Finding* f = told();
    std::optional<Kind> only;
    if (f && std::find(f->motions.begin(), f->motions.end(), motion_) != f->motions.end())
        only = f->kind;
    return troubleCurve(on_->build()->roles, all.sides[side].run->motions[static_cast<std::size_t>(m)],
                        run_.limits(), only);
}

} // namespace hobble
