// The trial itself: which one, its steps, its locks, strokes under way. Every change is kept before it is
// shown.
#include "app/session/mend_desk.h"
#include "io/trial_json.h"

#include <algorithm>
#include <utility>

namespace hobble {

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
    change(trial, tr("name the trial"));
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

void MendDesk::change(const Trial& trial, const QString& what) {
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
    change(trial, what);
}

void MendDesk::setStep(int at, const Step& step, const QString& what) {
    if (at < 0 || static_cast<std::size_t>(at) >= trial_.steps.size())
        return;
    Trial trial = trial_;
    trial.steps[static_cast<std::size_t>(at)] = step;
    change(trial, what);
}

void MendDesk::takeOut(int at) {
    if (at < 0 || static_cast<std::size_t>(at) >= trial_.steps.size())
        return;
    Trial trial = trial_;
    trial.steps.erase(trial.steps.begin() + at);
    change(trial, tr("take out a step"));
}

void MendDesk::move(int from, int to) {
    const int n = static_cast<int>(trial_.steps.size());
    if (from < 0 || from >= n || to < 0 || to >= n || from == to)
        return;
    Trial trial = trial_;
    const Step step = trial.steps[static_cast<std::size_t>(from)];
    trial.steps.erase(trial.steps.begin() + from);
    trial.steps.insert(trial.steps.begin() + to, step);
    change(trial, tr("move a step"));
}

void MendDesk::copyAcross(int at) {
    if (!ready() || at < 0 || static_cast<std::size_t>(at) >= trial_.steps.size())
        return;
    const auto step = onOtherSide(trial_.steps[static_cast<std::size_t>(at)], *on_->build(), on_->across());
    if (!step)
        return fail(tr("It cannot be done on the other side: %1.").arg(QString::fromStdString(step.error())));
    Trial trial = trial_;
    trial.steps.insert(trial.steps.begin() + at + 1, *step);
    change(trial, tr("copy a step to the other side"));
}

// Of the build, or of what was made of it: steps may add joints.
std::string MendDesk::nameOf(int joint) const {
    const auto j = static_cast<std::size_t>(joint);
    for (const Subject* s : {on_ ? on_->build().get() : nullptr, state_ ? state_->subject.get() : nullptr})
        if (s && joint >= 0 && j < s->character->skeleton.name.size())
            return s->character->skeleton.name[j];
    return {};
}

bool MendDesk::locked(int joint) const {
    return on_ && joint >= 0 &&
           std::find(trial_.locked.begin(), trial_.locked.end(), nameOf(joint)) != trial_.locked.end();
}

void MendDesk::setLocked(int joint, bool on) {
    if (!ready() || joint < 0 || on == locked(joint))
        return;
    const std::string name = nameOf(joint);
    Trial trial = trial_;
    if (on)
        trial.locked.push_back(name);
    else
        std::erase(trial.locked, name);
    change(trial, on ? tr("lock a joint") : tr("unlock a joint"));
}

void MendDesk::preview(const Step& step, bool bothSides) {
    if (!on_)
        return;
    Trial trial = trial_;
    trial.steps.push_back(step);
    previewed_ = true;
    ask(trial, false, bothSides);
}

namespace {

// What a joint takes within a stroke about it is about it wherever it goes.
Step standingAt(Step step, const Vec3d& place) {
    if (step.place.what == MendPlace::What::Stroke && step.place.path.size() == 1)
        step.place.path.front() += (place - step.at).cast<float>();
    step.at = place;
    return step;
}

} // namespace

void MendDesk::setJointAt(int at, const Vec3d& place) {
    if (at < 0 || static_cast<std::size_t>(at) >= trial_.steps.size())
        return;
    previewed_ = false;
    setStep(at, standingAt(trial_.steps[static_cast<std::size_t>(at)], place), tr("move a joint"));
}

void MendDesk::previewJointAt(int at, const Vec3d& place) {
    if (at >= 0 && static_cast<std::size_t>(at) < trial_.steps.size())
        previewStep(at, standingAt(trial_.steps[static_cast<std::size_t>(at)], place));
}

void MendDesk::previewStep(int at, const Step& step) {
    if (!on_ || at < 0 || static_cast<std::size_t>(at) >= trial_.steps.size())
        return;
    Trial trial = trial_;
    trial.steps[static_cast<std::size_t>(at)] = step;
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
        if (auto other = onOtherSide(step, *on_->build(), on_->across()))
            steps.push_back(std::move(*other));
        else
            fail(tr("It was drawn on one side only: %1.").arg(QString::fromStdString(other.error())));
    }
    add(steps, tr("a stroke"));
}

} // namespace hobble
