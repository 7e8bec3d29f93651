#pragma once
// Trying a cure before it is sent: the trial on the open build, what it is for, what its steps do to the
// numbers while they are made, and the cures that were searched for it. The trial's steps are in
// mend_desk_trial.cpp, cures in mend_desk_cures.cpp; what leaves the desk (a build, weights, a recipe, a
// proposal in the log) is in mend_desk_out.cpp.
#include "app/session/mend_worker.h"
#include "app/session/run_desk.h"
#include "app/session/trial_shelf.h"
#include "core/mend/cure.h"

namespace hobble {

/// What one wants of a region, in words; each becomes a step.
enum class MendVerb {
    Softer,
    Narrower,
    Wider,
    FromParent, // from parent to child
    Pass,       // an even passage from what stays to what follows
    OtherSide,
    KeepOut,
    FromNeighbours,
    Fill,
    Stiff,
    AsBelow,  // a garment, as the skin below it
    BindAnew, // from scratch, by the bones near it
    DropSmall,
    Cap,
    Centre, // the joint to the middle of the skin that blends about it
    Axes,   // what the joint bends about, turned about the limb
    // At the angle that is shown: shapes that fade in there
    ShapeHere, // as rigid as the skin can be
    BringOut,
    BringIn,
    EvenHere,
    FlatHere,
    OutOfFlesh,
    // Joints and what follows
    HalfTurn,    // a joint that makes half of the turn
    FillOut,     // a joint that goes out as the other bends
    ShareRoll,   // joints along the bone
    FollowOther, // as its other side follows
    // What is done to the skin besides its shares
    SmoothAfter, // smoothed once it is posed, its detail kept
    ByDual       // by dual quaternions
};

class MendDesk : public Desk {
    Q_OBJECT
public:
    MendDesk(Shared& shared, BuildDesk& build, PlanDesk& plan, RunDesk& run, LogDesk& log);

    /// What keeps anything from being tried: no character, a variant worn, no run; empty when nothing does.
    QString whyNot() const;

    // What it is for
    void beginFor(int finding);         // of the run's; −1: the character as such
    void beginForDefect(qint64 defect); // of the log, found again in the run
    void beginAt(int joint);            // nothing was found there
    const CureGoal& goal() const { return goal_; }
    const Finding* told() const; // the sign that tells what it is for; null when there is none
    QString aimWords() const;    // "Right elbow stretches to 4.64 times its length"
    QString aimNotes() const;    // where it starts, who has it

    // The trial
    const Trial& trial() const { return trial_; }
    QVector<KeptTrial> kept() const; // trials on this build, this one too
    void openTrial(const QString& path);
    void rename(const QString& name);
    bool begun() const { return begun_; }
    void change(const Trial& trial, const QString& what); // undoable, kept at once
    void add(const std::vector<Step>& steps, const QString& what);
    /// Over skin that is marked (welded vertices), else where the verb is meant: the blend of the joint in
    /// hand, or what the fault marks. mend_desk_verbs.cpp
    void apply(MendVerb verb, const std::vector<std::uint32_t>& marked);
    void setStep(int at, const Step& step, const QString& what);
    /// The joint that a step moves or adds stands there, neutral, metres; the skin that it takes goes along.
    void setJointAt(int step, const Vec3d& place);
    void previewJointAt(int step, const Vec3d& place); // seen at once, not kept
    void previewStep(int at, const Step& step);        // likewise
    void takeOut(int at);
    void move(int from, int to);
    void copyAcross(int at); // the same on the other side of the body, behind it
    void setLocked(int joint, bool locked);
    bool locked(int joint) const;
    /// A stroke under way: seen at once, no step yet.
    void preview(const Step& step, bool bothSides = false);
    void dropPreview();
    /// It is done: a step, and where wanted one on the other side of the body, too.
    void addStroke(const Step& step, bool bothSides);

    // What comes of it
    /// As worked out last: it may be of the trial before, while the newest is on its way.
    const std::vector<StepEffect>& effects() const { return effects_; }
    const std::vector<double>& stepShares() const { return shares_; } // of the trouble; may be shorter
    /// Null until the newest has been measured.
    const TrialMeasured* result() const { return measured_.get(); }
    bool measuring() const { return measuring_; }

    // Cures
    void search();
    const std::vector<Cure>& cures() const { return cures_; }
    bool searching() const { return searching_; }
    bool searched() const { return searched_; }  // for this goal and these steps
    QString nothing() const { return nothing_; } // why nothing helps
    void take(int cure);
    void showCure(int cure); // as if it were taken; −1: the trial again
    int shownCure() const { return shownCure_; }
    void cureAll(); // all that can be cured, as steps

    // The pose looked at
    PoseView& view() { return view_; }
    void showBefore(bool on); // the build, while held
    /// The build in the same pose, for a second viewport.
    PoseView& buildView() { return buildView_; }
    void setBesideShown(bool on);
    bool besideShown() const { return besideShown_; }
    bool beforeShown() const { return beforeShown_; }
    void setPose(int motion, double at); // of the build's run
    int motion() const { return motion_; }
    double poseAt() const { return poseAt_; }
    const Motion* motionShown() const;
    /// What turns at the angle shown: the joint in hand where the motion turns it, else the motion's own;
    /// nothing in neutral, or where no one joint's angle tells the pose.
    struct AngleHere {
        int joint = -1;
        Vec3d axis = Vec3d::Zero(); // world, neutral
        double degrees = 0;
    };
    std::optional<AngleHere> angleHere() const;
    /// What the build's plan bends the joint about, world, neutral, unit; nothing where it only rolls it.
    std::optional<Vec3d> bendAxis(int joint) const;
    void sayNoAngle();                   // what is for an angle was asked for where there is none
    int joint() const { return joint_; } // in hand; −1: none
    void takeInHand(int joint);
    /// The build beside what is made of it, in the pose looked at; the trial's side has no motion until that
    /// has been measured.
    const Subject* build() const { return on_ ? on_->build().get() : nullptr; }
    const RunResult* buildRun() const { return on_ ? on_->run().get() : nullptr; }
    struct Sides {
        ComparedSides sides;
        std::array<int, 2> motion{-1, -1};
    };
    Sides sides() const;
    TroubleCurve curve(std::size_t side) const; // of the motion looked at, in the measure it is for

    // Out: mend_desk_out.cpp
    void saveBuild(const QString& path, std::size_t influences);
    void saveWeights(const QString& path); // .json or .csv
    void saveTrial(const QString& path);
    void saveRecipe(const QString& path);
    void takeTrial(const QString& path); // a trial's file, onto this build
    bool canPropose() const;
    void propose(const QByteArray& camera, const QByteArray& picture);
    QString savedBuild() const { return savedBuild_; } // the newest file; empty: none

signals:
    void aimChanged(QPrivateSignal);
    void trialChanged(QPrivateSignal);    // its steps, or which one it is
    void madeChanged(QPrivateSignal);     // what the steps made
    void measuredChanged(QPrivateSignal); // numbers and curves
    void curesChanged(QPrivateSignal);
    void poseChanged(QPrivateSignal);
    void savedChanged(QPrivateSignal);

private:
    void takeSubject();
    void takeRun();
    std::string nameOf(int joint) const;
    bool ready(); // there is a run to stand on
    void setGoal(CureGoal goal, TrialAim aim);
    void findAim(); // of the trial, in the run
    bool set(const Trial& trial);
    void ask(const Trial& trial, bool measured, bool lastOnBothSides = false);
    void look();
    void lookBeside();
    void forgetCures();
    RunOptions options() const;
    Trial fresh() const;

    BuildDesk& build_;
    PlanDesk& plan_;
    RunDesk& run_;
    LogDesk& log_;
    PoseView view_, buildView_;
    std::shared_ptr<TrialRun> on_; // the build with its run; null until there is one
    Trial trial_;
    QString path_; // where it is kept
    bool begun_ = false;
    CureGoal goal_;
    std::vector<StepEffect> effects_;
    std::vector<double> shares_;
    std::shared_ptr<const TrialState> state_; // as it was last made, of the trial or of what is shown
    ComparedSide single_;                     // the motion looked at alone, measured first
    std::shared_ptr<const TrialMeasured> measured_;
    bool measuring_ = false, previewed_ = false;
    std::uint64_t ticket_ = 0, searchTicket_ = 0;
    std::uint64_t before_ = 0;                    // the last ticket of another build or run
    std::shared_ptr<std::atomic<bool>> unwanted_; // set where the search under way is for nothing any more
    std::vector<Cure> cures_;
    bool searching_ = false, searched_ = false;
    QString nothing_;
    int shownCure_ = -1;
    bool beforeShown_ = false, besideShown_ = false;
    int motion_ = -1, joint_ = -1;
    double poseAt_ = 0;
    QString savedBuild_;
    MendWorker worker_; // last: it speaks to all of the above
};

} // namespace hobble
