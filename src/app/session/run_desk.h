#pragma once
// The run of the plan on what is worn: its results as they come in, the limits they are judged by, which pose
// of it is looked at and which finding, the earlier build's run beside it, and which findings the log knows
// of. Logging findings is in run_desk_findings.cpp.
#include "app/session/plan_desk.h"
#include "core/pose/plan_diff.h"
#include "core/run/cost.h"
#include "core/run/spot.h"
#include "core/run/trouble_curve.h"
#include "io/run_curves.h"

#include <QThreadPool>

#include <map>

namespace hobble {

/// What the plan found on one variant of the character.
struct VariantResult {
    QString name;
    int faults = 0, worst = 0;
    int fresh = 0;                    // faults the build itself does not have
    std::vector<QString> new_;        // those, in words; worst first
    std::vector<TroubleCurve> curves; // of each motion of the plan that was tested
};

class RunDesk : public Desk {
    Q_OBJECT
public:
    RunDesk(Shared& shared, BuildDesk& build, PlanDesk& plan, LogDesk& log);
    ~RunDesk() override;

    // The run
    void start(); // measures what has not been measured
    const std::shared_ptr<const RunResult>& run() const { return run_; } // null until one has finished
    QDateTime at() const { return runAt_; }
    Skinning method() const { return view_.method(); }
    void setMethod(Skinning method);
    const Limits& limits() const { return limits_; }
    void setLimits(const Limits& limits); // undoable, kept for the next start; judges the run again
    static QString limitsPath();          // where they are kept
    /// What is known of a motion: while a run is under way, what it has finished already; null when nothing.
    const MotionResult* resultOf(int motion) const;
    /// The nearest earlier build of the character with a run in the log; null when there is none.
    struct Earlier {
        int build = 0;
        std::map<std::string, MotionResult> motions; // by id
        const MotionResult* of(const Motion& motion) const;
    };
    const Earlier* earlier() const { return earlier_ ? &*earlier_ : nullptr; }
    /// What the team took for good in this log, with the curves of its newest run; null when there is none.
    struct GoodBuild {
        Reference reference;
        KeptCurves curves;
        const MotionResult* of(const Motion& motion) const;
    };
    const GoodBuild* good() const { return good_ ? &*good_ : nullptr; }
    void askWorstMotionsAt(std::uint32_t fileVertex); // answered by worstMotionsFound

    // Against the plan as it stands
    const Plan* ranPlan() const {
        return run_ && ranPlan_ ? &*ranPlan_ : nullptr;
    } // the run was started with
    std::vector<PlanChange> changesSinceRun() const;
    RunCost cost() const;             // of the whole plan, measured from nothing
    RunCost costOfWhatIsOpen() const; // of the motions that have no results yet

    // The plan over the build and all its variants
    void testVariants();
    /// Of the build itself, then of each variant that was tested.
    const std::vector<VariantResult>& variantResults() const { return variantResults_; }
    const Plan& variantPlan() const { return variantPlan_; } // they were tested with

    // The pose looked at
    PoseView& view() { return view_; }
    void setPose(int motion, double at);
    /// A pose that is of no motion of the plan: a logged one whose motion is not in it, or the moment of a
    /// clip that `name` says.
    void setFreePose(const Pose& pose, int joint, double at, const QString& name = {});
    const QString& freePoseName() const { return freeName_; }
    int motion() const { return motion_; }
    const Motion* motionShown() const { return plan_.motion(motion_); }
    double poseAt() const { return poseAt_; } // in the motion's unit
    int joint() const;                        // the one the reading is about; -1 when none

    // The finding looked at, an index into run()->findings; -1 for none
    void selectFinding(int finding);
    int finding() const { return finding_; }
    void showFinding(int finding); // selects it and goes to its peak
    const Finding* findingAt(int index) const;
    const Fault* faultOf(int finding) const; // whose sign it is; null when there is none

    // Findings in the log
    /// The defect of this character that tells of a finding of the run, in this build or an earlier one; 0
    /// when there is none.
    qint64 defectOf(int finding) const;
    void logDefect(int finding, const QByteArray& camera, const QByteArray& picture);
    /// Takes a way out with it, for a reason; logs it first where it is not.
    void settle(int finding, DefectState state, const QString& reason, const QByteArray& camera,
                const QByteArray& picture);
    /// Asked for the severity a finding is logged with, given its own.
    void setSeverityProposal(std::function<int(int finding, int severity)> proposes) {
        proposes_ = std::move(proposes);
    }
    /// Open defects of this character that a finding could be another sign of, the likeliest first.
    QVector<Defect> mergeable(int finding) const;
    void merge(int finding, qint64 defect);
    /// What a person marked in the pose shown and no rule found; `triangles` of the surface, ascending.
    void logByEye(std::vector<std::uint32_t> triangles, Kind kind, int severity, const QString& note,
                  const QByteArray& camera, const QByteArray& picture);
    /// The kind that fits best what is marked; nothing while the pose is still being measured.
    std::optional<Kind> kindAt(const std::vector<std::uint32_t>& triangles) const;

signals:
    void limitsChanged(QPrivateSignal);
    void methodChanged(QPrivateSignal);
    void runChanged(QPrivateSignal);                 // its results, or the plan they are laid over
    void motionMeasured(int motion, QPrivateSignal); // of the run under way
    void poseChanged(QPrivateSignal);                // motion or place asked for
    void findingChanged(QPrivateSignal);
    void defectsMatched(QPrivateSignal); // to findings, anew
    void variantsTested(QPrivateSignal);
    void worstMotionsFound(std::uint32_t fileVertex, const std::vector<hobble::SpotMotion>& motions,
                           QPrivateSignal);

private:
    std::function<int(int finding, int severity)> proposes_;
    enum class Why { Measure, JudgeAgain };
    void takeSubject(BuildDesk::Change change);
    void settled(BuildDesk::Change change);
    void takePlan();
    void begin(Why why);
    void finish(std::shared_ptr<const RunResult> result, Why why);
    void takeMotion(const std::shared_ptr<const Subject>& subject, std::size_t motion, const MotionResult& m);
    bool keepLimits(const Limits& limits);
    void look(); // the view shows the pose looked at
    void tellJoint();
    void loadEarlier();
    void loadGood();
    void matchDefects();
    DefectFacts factsToLog(int finding) const;
    DefectFacts pictured(DefectFacts facts, const QByteArray& camera, const QByteArray& picture) const;

    BuildDesk& build_;
    PlanDesk& plan_;
    LogDesk& log_;
    PoseView view_;
    Limits limits_;
    std::shared_ptr<const RunResult> run_;
    std::optional<Plan> ranPlan_;
    QDateTime runAt_;
    std::vector<MotionResult> arriving_; // of the run under way, per motion
    std::optional<Earlier> earlier_;
    std::optional<GoodBuild> good_;
    qint64 goodOf_ = 0; // the build in the log that good_ was asked for
    std::vector<VariantResult> variantResults_;
    Plan variantPlan_;
    std::vector<Variant> tested_; // that they are of
    double pace_ = 0;             // seconds a pose took in the last run that measured most of its poses
    int motion_ = -1, freeJoint_ = -1, finding_ = -1;
    std::string motionId_; // of the motion looked at, to find it again in another plan
    double poseAt_ = 0;
    Pose freePose_;
    QString freeName_;
    std::vector<qint64> defectOf_; // per finding of the run
    QThreadPool asides_;           // short questions that wait for no job
};

} // namespace hobble
