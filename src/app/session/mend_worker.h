#pragma once
// Works a trial out and measures it, off the window's thread. Only the newest trial counts: while one is
// measured, a newer one ends it, so that a stroke never queues up.
#include "core/mend/trial_run.h"

#include <QObject>

#include <condition_variable>
#include <mutex>
#include <thread>

namespace hobble {

struct TrialAsk {
    std::shared_ptr<TrialRun> on;
    Trial trial;
    CureGoal goal;
    std::string motion; // that is looked at: measured first
    RunOptions options;
    bool measured = true;         // in the middle of a stroke only the weights are wanted
    bool lastOnBothSides = false; // of a stroke under way that is drawn so
    std::uint64_t ticket = 0;
};

class MendWorker : public QObject {
    Q_OBJECT
public:
    explicit MendWorker(QObject* parent = nullptr);
    ~MendWorker() override;
    void ask(TrialAsk ask);

signals: // each with the ticket it was asked with
    void made(std::uint64_t ticket, std::shared_ptr<const hobble::TrialState> state);
    void motionMeasured(std::uint64_t ticket, hobble::ComparedSide side);
    void measured(std::uint64_t ticket, std::shared_ptr<const hobble::TrialMeasured> result);
    void weighed(std::uint64_t ticket, std::vector<double> shares); // of the trouble, per step

private:
    void work();
    void answer(const TrialAsk& ask);
    std::mutex mutex_;
    std::condition_variable wake_;
    std::optional<TrialAsk> newest_;
    std::atomic<bool> stale_{false};
    bool stopping_ = false;
    std::thread thread_;
};

} // namespace hobble
