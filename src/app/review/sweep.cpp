#include "app/review/sweep.h"

#include <QSettings>

namespace hobble {

Sweep::Sweep(Session* session, StripModel* model, StripView* strips, QObject* parent)
    : QObject(parent), session_(session), model_(model), strips_(strips) {
    timer_.setInterval(33);
    connect(&timer_, &QTimer::timeout, this, &Sweep::step);
    connect(session, &Session::characterChanged, this, &Sweep::stop);
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
    if (session_->motion() < 0)
        return stop();
    const qint64 passed = clock_.restart();
    if (restMs_ > 0) {
        restMs_ -= passed;
        return;
    }
    const int motion = session_->motion();
    const double limit = session_->plan().motions[static_cast<std::size_t>(motion)].limit();
    const double pace = std::max(limit, 30.0) * static_cast<double>(passed) / (1000 * seconds_);
    const double now = session_->degrees(), next = now + (back_ ? -pace : pace);
    if (pause_ && !back_)
        if (const double peak = peakOf(motion); peak >= 0 && now < peak - 1e-9 && next >= peak) {
            restMs_ = kPauseMs;
            return session_->setPose(motion, peak);
        }
    if (next <= 0 && back_ && over_ != Over::Motion) { // there and back: on to the next
        back_ = false;
        const int following = after(motion);
        if (following < 0) {
            session_->setPose(motion, 0);
            return stop();
        }
        strips_->reveal(following);
        return session_->setPose(following, 0);
    }
    if (next >= limit || next <= 0)
        back_ = next >= limit;
    session_->setPose(motion, std::clamp(next, 0.0, limit));
}

int Sweep::after(int motion) const {
    const auto& motions = session_->plan().motions;
    const int next = strips_->motionBeside(motion, 1);
    if (next < 0 || next == motion ||
        (over_ == Over::Limb &&
         motions[static_cast<std::size_t>(next)].limb != motions[static_cast<std::size_t>(motion)].limb))
        return -1;
    return next;
}

} // namespace hobble
