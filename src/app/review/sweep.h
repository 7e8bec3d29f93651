#pragma once
// Playback: one motion there and back, or one after another over a limb or the whole plan, by the clock and
// not by pictures. On its way out it can rest on each motion's worst angle.
#include "app/review/strip_view.h"

#include <QElapsedTimer>
#include <QTimer>

namespace hobble {

class Sweep : public QObject {
    Q_OBJECT
public:
    enum class Over { Motion, Limb, Plan };

    Sweep(BuildDesk* build, PlanDesk* plan, RunDesk* run, StripModel* model, StripView* strips,
          QObject* parent);
    void toggle(Over over); // again: stops
    void stop();
    bool running() const { return timer_.isActive(); }
    bool resting() const { return running() && restMs_ > 0; } // on a worst angle

    // Both are kept for the next start.
    double seconds() const { return seconds_; } // from neutral to a motion's limit
    void setSeconds(double seconds);
    bool pausesOnPeaks() const { return pause_; }
    void setPausesOnPeaks(bool on);

    static constexpr int kPauseMs = 900;

signals:
    void changed(); // running or not

private:
    void step();
    double peakOf(int motion) const; // -1 when it stays within limits
    int after(int motion) const;     // in the order of the strips, of the limb or the plan; -1 at the end
    BuildDesk* build_;
    PlanDesk* plan_;
    RunDesk* run_;
    StripModel* model_;
    StripView* strips_;
    QTimer timer_;
    QElapsedTimer clock_;
    Over over_ = Over::Motion;
    bool back_ = false, pause_ = false;
    qint64 restMs_ = 0; // still to rest
    double seconds_ = 2;
};

} // namespace hobble
