#include "app/review/sweep.h"

#include "core/pose/sweep.h"

#include <QSettings>

namespace hobble {

Sweep::Sweep(BuildDesk* build, PlanDesk* plan, RunDesk* run, StripModel* model, StripView* strips,
             QObject* parent)
    : QObject(parent), build_(build), plan_(plan), run_(run), model_(model), strips_(strips) {
    timer_.setInterval(33);
    connect(&timer_, &QTimer::timeout, this, &Sweep::step);
    connect(build_, &BuildDesk::characterChanged, this, &Sweep::stop);
    seconds_ = std::clamp(QSettings().value(QStringLiteral("sweepSeconds"), 2.0).toDouble(), 0.25, 20.0);
    pause_ = QSettings().value(QStringLiteral("sweepPauses")).toBool();
}

void Sweep::setSeconds(double seconds) {
    seconds_ = seconds;
    QSettings().setValue(QStringLiteral("sweepSeconds"), seconds);
}

void Sweep::setPausesOnPeaks(bool on) {
    pause_ = on;
    QSettings().setValue(QStringLiteral("sweepPauses"), on);
}

void Sweep::stop() {
    timer_.stop();
    emit changed();
}

void Sweep::toggle(Over over) {
    if (timer_.isActive() && over == over_)
        return stop();
    over_ = over;
    back_ = false;
    restMs_ = 0;
    clock_.start();
    timer_.start();
    emit changed();
}

double Sweep::peakOf(int motion) const {
    const QModelIndex at = model_->indexOf(motion);
    if (!at.isValid())
        return -1;
    const StripRow& row = model_->row(at);
    for (const StripCurve* c : {&row.left, &row.right, &row.single})
        if (c->motion == motion)
            return c->peak;
    return -1;
}

void Sweep::step() {
    const int motion = run_->motion();
    const Motion* m = run_->motionShown();
    if (!m)
        return stop();
    const qint64 passed = clock_.restart();
    if (restMs_ > 0) {
        restMs_ -= passed;
        return;
    }
    const SweepPlace next =
        sweptOn({run_->poseAt(), back_, false, false}, m->limit(), static_cast<double>(passed) / 1000,
                seconds_, pause_ ? peakOf(motion) : -1);
    back_ = next.back;
    if (next.rests)
        restMs_ = kPauseMs;
    if (!next.home || over_ == Over::Motion)
        return run_->setPose(motion, next.at);
    back_ = false; // there and back: on to the next
    const int following = after(motion);
    if (following < 0) {
        run_->setPose(motion, 0);
        return stop();
    }
    strips_->reveal(following);
    run_->setPose(following, 0);
}

int Sweep::after(int motion) const {
    const auto& motions = plan_->plan().motions;
    const int next = strips_->motionBeside(motion, 1);
    if (next < 0 || next == motion ||
        (over_ == Over::Limb &&
         motions[static_cast<std::size_t>(next)].limb != motions[static_cast<std::size_t>(motion)].limb))
        return -1;
    return next;
}

} // namespace hobble
