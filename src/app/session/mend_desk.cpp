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
    connect(&run, &RunDesk::methodChanged, this, [this] { view_.setMethod(run_.method()); });
    connect(&log, &LogDesk::logChanged, this, [this] { emit aimChanged(QPrivateSignal()); });
    connect(&worker_, &MendWorker::made, this,
            [this](std::uint64_t ticket, const std::shared_ptr<const TrialState>& state) {
                if (!on_ || (state->subject->tree != on_->build()->tree && !state->movesJoints))
                    return; // of a build closed meanwhile
                state_ = state;
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
    ++ticket_;
    ++searchTicket_;
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
    measuring_ = previewed_ = beforeShown_ = searching_ = searched_ = false;
    cures_.clear();
    nothing_.clear();
    shownCure_ = motion_ = joint_ = -1;
    poseAt_ = 0;
    savedBuild_.clear();
    across_.reset();
    view_.setSubject(nullptr);
    emit aimChanged(QPrivateSignal());
    emit trialChanged(QPrivateSignal());
}

void MendDesk::takeRun() {
    const auto run = run_.run();
    if (!whyNot().isEmpty() || !run_.ranPlan()) {
        if (on_ && (!run || run->cancelled)) { // a run under way is waited for
            ++ticket_;
            on_.reset();
        }
        return emit aimChanged(QPrivateSignal());
    }
    if (on_ && on_->run() == run)
        return;
    const bool first = view_.subject() == nullptr;
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

QVector<KeptTrial> MendDesk::kept() const {
    return build_.subject() && build_.wearsNothing() ? keptTrials(*build_.subject()) : QVector<KeptTrial>();
}

void MendDesk::openTrial(const QString& path) {
    if (!ready())
        return;
    auto trial = readTrial(path.toStdString(), on_->build()->surface);
    if (!trial)
        return fail(trial.error());
    trial_ = std::move(*trial);
    path_ = path;
    takeFromShelf(path);
    begun_ = true;
    effects_.clear();
    shares_.clear();
    shownCure_ = -1;
    forgetCures();
    findAim();
    if (const Finding* f = told()) {
        joint_ = f->joint;
        motion_ = -1;
        setPose(f->motion, f->peak);
    }
    emit trialChanged(QPrivateSignal());
    ask(trial_, true);
    if (trial_.steps.empty() && !goal_.signs.empty())
        search();
}

void MendDesk::rename(const QString& name) {
    Trial trial = trial_;
    trial.name = name.trimmed().toStdString();
    change(std::move(trial), tr("name the trial"));
}

// Kept before it is shown: whatever happens next, the hand's work is there.
bool MendDesk::set(const Trial& trial) {
    if (!on_)
        return false;
    if (path_.isEmpty())
        path_ = freshTrialPath(*on_->build());
    if (const auto written = keepTrial(path_, trial, *on_->build()); !written)
        fail(written.error());
    trial_ = trial;
    begun_ = true;
    previewed_ = false;
    shownCure_ = -1;
    effects_.resize(std::min(effects_.size(), trial.steps.size()));
    shares_.clear();
    emit trialChanged(QPrivateSignal());
    emit curesChanged(QPrivateSignal());
    ask(trial_, true);
    return true;
}

void MendDesk::change(Trial trial, const QString& what) {
    if (!ready() || trial == trial_)
        return;
    const Trial before = trial_;
    if (!set(trial))
        return;
    const QString path = path_;
    const auto to = [this, path](const Trial& one) {
        return [this, path, one] { return path == path_ && set(one); }; // of one that is not open: no
    };
    undoable(what, to(trial), to(before));
}

void MendDesk::add(const std::vector<Step>& steps, const QString& what) {
    Trial trial = trial_;
    trial.steps.insert(trial.steps.end(), steps.begin(), steps.end());
    change(std::move(trial), what);
}

void MendDesk::setStep(int at, const Step& step, const QString& what) {
    if (at < 0 || static_cast<std::size_t>(at) >= trial_.steps.size())
        return;
    Trial trial = trial_;
    trial.steps[static_cast<std::size_t>(at)] = step;
    change(std::move(trial), what);
}

void MendDesk::takeOut(int at) {
    if (at < 0 || static_cast<std::size_t>(at) >= trial_.steps.size())
        return;
    Trial trial = trial_;
    trial.steps.erase(trial.steps.begin() + at);
    change(std::move(trial), tr("take out a step"));
}

void MendDesk::move(int from, int to) {
    const int n = static_cast<int>(trial_.steps.size());
    if (from < 0 || from >= n || to < 0 || to >= n || from == to)
        return;
    Trial trial = trial_;
    const Step step = trial.steps[static_cast<std::size_t>(from)];
    trial.steps.erase(trial.steps.begin() + from);
    trial.steps.insert(trial.steps.begin() + to, step);
    change(std::move(trial), tr("move a step"));
}

void MendDesk::copyAcross(int at) {
    if (!ready() || at < 0 || static_cast<std::size_t>(at) >= trial_.steps.size())
        return;
    if (!across_)
        across_ = std::make_shared<const Pairing>(pairMirrored(*on_->build()));
    const auto step = onOtherSide(trial_.steps[static_cast<std::size_t>(at)], *on_->build(), *across_);
    if (!step)
        return fail(tr("It cannot be done on the other side: %1.").arg(QString::fromStdString(step.error())));
    Trial trial = trial_;
    trial.steps.insert(trial.steps.begin() + at + 1, *step);
    change(std::move(trial), tr("copy a step to the other side"));
}

bool MendDesk::locked(int joint) const {
    return on_ && joint >= 0 &&
           std::find(trial_.locked.begin(), trial_.locked.end(),
                     on_->build()->character->skeleton.name[static_cast<std::size_t>(joint)]) !=
               trial_.locked.end();
}

void MendDesk::setLocked(int joint, bool on) {
    if (!ready() || joint < 0 || on == locked(joint))
        return;
    const std::string& name = on_->build()->character->skeleton.name[static_cast<std::size_t>(joint)];
    Trial trial = trial_;
    if (on)
        trial.locked.push_back(name);
    else
        std::erase(trial.locked, name);
    change(std::move(trial), on ? tr("lock a joint") : tr("unlock a joint"));
}

void MendDesk::preview(const Step& step) {
    if (!on_)
        return;
    Trial trial = trial_;
    trial.steps.push_back(step);
    previewed_ = true;
    ask(trial, false);
}

void MendDesk::dropPreview() {
    if (std::exchange(previewed_, false))
        ask(trial_, true);
}

void MendDesk::addStroke(const Step& step, bool bothSides) {
    if (!ready())
        return;
    std::vector<Step> steps{step};
    if (bothSides) {
        if (!across_)
            across_ = std::make_shared<const Pairing>(pairMirrored(*on_->build()));
        if (auto other = onOtherSide(step, *on_->build(), *across_))
            steps.push_back(std::move(*other));
        else
            fail(tr("It was drawn on one side only: %1.").arg(QString::fromStdString(other.error())));
    }
    add(steps, tr("a stroke"));
}

RunOptions MendDesk::options() const {
    RunOptions out;
    out.method = on_->run()->method;
    out.limits = run_.limits();
    return out;
}

void MendDesk::ask(const Trial& trial, bool measured) {
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
    out.ticket = ++ticket_;
    measuring_ = measured;
    worker_.ask(std::move(out));
    if (measured)
        emit measuredChanged(QPrivateSignal());
}

// Cures

void MendDesk::forgetCures() {
    ++searchTicket_;
    cures_.clear();
    nothing_.clear();
    searching_ = searched_ = false;
    emit curesChanged(QPrivateSignal());
}

void MendDesk::search() {
    if (!ready() || goal_.signs.empty() || searching_)
        return;
    const bool steps =
        std::any_of(trial_.steps.begin(), trial_.steps.end(), [](const Step& s) { return s.on; });
    if (steps && (!measured_ || measuring_))
        return; // it is searched on what they made, once that has been measured
    forgetCures();
    searching_ = true;
    emit curesChanged(QPrivateSignal());
    jobs().start(
        tr("Searching what would help"),
        [this, on = on_, goal = goal_, done = trial_.steps, steps,
         now = steps ? measured_->now : ComparedSide{}, ticket = searchTicket_, limits = run_.limits(),
         known = measured()](JobControl& control) -> std::function<void()> {
            CureOptions how;
            how.limits = limits;
            how.progress = progressOf(control);
            how.found = [this, ticket](const Cure& c) {
                QMetaObject::invokeMethod(this, [this, ticket, c] {
                    if (ticket != searchTicket_)
                        return;
                    cures_.push_back(c);
                    emit curesChanged(QPrivateSignal());
                });
            };
            Cures found;
            if (!steps) {
                found = CureSearch(on->build(), on->plan(), on->run(), *known).search(goal, how);
            } else {
                // what is left of the fault, in the run of what the steps made
                CureGoal left;
                left.joint = goal.joint;
                left.causes = goal.causes;
                for (int sign : goal.signs) {
                    const Finding& f = on->run()->findings[static_cast<std::size_t>(sign)];
                    for (std::size_t i = 0; i < now.run->findings.size(); ++i)
                        if (const Finding& g = now.run->findings[i]; g.kind == f.kind && g.joint == f.joint)
                            left.signs.push_back(static_cast<int>(i));
                }
                if (left.signs.empty())
                    found.nothing = "nothing of it is left";
                else
                    found =
                        CureSearch(on->build(), done, now.subject,
                                   turnedAlike(on->plan(), *on->build()->character, *now.subject->character),
                                   now.run, on->memory())
                            .search(left, how);
            }
            return [this, ticket, found = std::move(found)] {
                if (ticket != searchTicket_)
                    return;
                cures_ = found.cures;
                nothing_ = QString::fromStdString(found.nothing);
                searching_ = false;
                searched_ = !found.stopped;
                emit curesChanged(QPrivateSignal());
            };
        });
}

void MendDesk::take(int cure) {
    if (cure < 0 || static_cast<std::size_t>(cure) >= cures_.size())
        return;
    const std::vector<Step> steps = cures_[static_cast<std::size_t>(cure)].steps;
    forgetCures();
    add(steps, tr("take a proposal"));
}

void MendDesk::showCure(int cure) {
    if (!on_ || cure == shownCure_ || cure >= static_cast<int>(cures_.size()))
        return;
    shownCure_ = cure;
    Trial trial = trial_;
    if (cure >= 0) {
        const auto& steps = cures_[static_cast<std::size_t>(cure)].steps;
        trial.steps.insert(trial.steps.end(), steps.begin(), steps.end());
    }
    ask(trial, true);
    emit curesChanged(QPrivateSignal());
}

void MendDesk::cureAll() {
    if (!ready())
        return;
    jobs().start(tr("Curing all that can be cured"),
                 [this, on = on_, limits = run_.limits(),
                  known = measured()](JobControl& control) -> std::function<void()> {
                     CureOptions how;
                     how.limits = limits;
                     how.progress = progressOf(control);
                     auto all = hobble::cureAll(on->build(), on->plan(), on->run(), *known, how);
                     return [this, on, all = std::move(all)] {
                         if (on != on_)
                             return;
                         if (all.trial.steps.empty())
                             return tell(all.stopped ? tr("Stopped before anything was cured.")
                                                     : tr("Nothing was found that helps and harms nothing."));
                         Trial trial = trial_;
                         trial.steps = all.trial.steps;
                         change(std::move(trial), tr("cure all that can be cured"));
                         tell(tr("%1 cures taken; of %2 findings %3 are left.")
                                  .arg(all.taken.size())
                                  .arg(on->run()->findings.size())
                                  .arg(all.run->findings.size()));
                     };
                 });
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
