#pragma once
// What is open, as desks that pages work at: each has its own matter, its own signals and its own voice.
// Session owns them and makes them known to each other, and does nothing else.
#include "app/session/compare_desk.h"
#include "app/session/exposure_desk.h"
#include "app/session/mend_desk.h"
#include "app/session/pose_desk.h"
#include "app/session/run_desk.h"

namespace hobble {

class Session : public QObject {
    Q_OBJECT
public:
    explicit Session(QObject* parent = nullptr);
    ~Session() override;

    BuildDesk& build() { return build_; }          // what came in, and is it fit to be tested?
    PlanDesk& plan() { return plan_; }             // what shall it do?
    PoseDesk& pose() { return pose_; }             // poses made by hand
    RunDesk& run() { return run_; }                // where does it hurt?
    MendDesk& mend() { return mend_; }             // what would take it away?
    CompareDesk& compare() { return compare_; }    // is it cured?
    ExposureDesk& exposure() { return exposure_; } // does the show go there?
    LogDesk& log() { return log_; }                // who fixes it?
    std::array<Desk*, 8> desks() {
        return {&build_, &plan_, &pose_, &run_, &exposure_, &mend_, &compare_, &log_};
    }

    JobQueue& jobs() { return shared_.jobs; }
    QUndoStack& undoStack() { return shared_.undo; }

private:
    Shared shared_;
    // each knows those above it
    LogDesk log_;
    BuildDesk build_;
    PlanDesk plan_;
    PoseDesk pose_;
    RunDesk run_;
    ExposureDesk exposure_;
    MendDesk mend_;
    CompareDesk compare_;
};

} // namespace hobble
