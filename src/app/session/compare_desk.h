#pragma once
// The open build against something else: another build of it, another file, its own other side, another
// skinning, what is tried on it. Both are run on the plan (what is cached is not run again) and laid over
// each other; and the log's open defects are asked for on the open build. What a person says of a verdict is
// in compare_desk_checks.cpp.
#include "app/session/run_desk.h"
#include "core/compare/comparison.h"
#include "core/mend/trial.h"
#include "log/sign_off.h"
#include "story/defect_checks.h"

namespace hobble {

class CompareDesk : public Desk {
    Q_OBJECT
public:
    CompareDesk(Shared& shared, BuildDesk& build, PlanDesk& plan, RunDesk& run, LogDesk& log);

    // What the open build is laid against
    void againstBuild(qint64 id); // of the log
    void againstFile(const QString& path);
    void leftAgainstRight();
    void againstOtherMethod();
    void againstVariant(const Variant& variant); // of the build; one that changes nothing is the build itself
    /// What the steps make of the open build, against the build as it came.
    void ofTrial(const Trial& trial);
    const Trial* trial() const { return against_.what == Against::Trial ? &against_.trial : nullptr; }
    void againstNothing();
    /// The build before this one, where nothing is chosen and there is one. Asked when the page is first
    /// seen.
    void againstLastBuild();
    qint64 againstWhichBuild() const { return against_.what == Against::Build ? against_.build : 0; }
    bool chosen() const { return against_.what != Against::Nothing; }
    QString beforeName() const; // "build 2", "left", "linear", a file's name
    QString nowName() const;
    /// Null until both have been run; then of the newest run.
    const std::shared_ptr<const Comparison>& comparison() const { return comparison_; }
    QString whyNot() const { return whyNot_; } // what keeps it from being there; empty when nothing does
    bool comparing() const { return comparing_; }

    // The pose looked at, on both sides
    PoseView& before() { return before_; }
    PoseView& now() { return now_; }
    void setPose(int motion, double at); // of the open build's plan
    int motion() const { return motion_; }
    double poseAt() const { return poseAt_; }
    const Motion* motionShown() const;   // on the open build's side
    int joint() const { return joint_; } // of the open build; −1: none
    void lookAtJoint(int joint);

    // The log's defects on the open build
    void checkAgain();
    /// Null until they have been checked.
    const DefectChecks* checks() const { return checks_ ? &*checks_ : nullptr; }
    const DefectCheck* check(qint64 defect) const;
    int left() const; // that nobody has said anything of yet
    bool settled(qint64 defect) const { return said_.contains(defect); }
    void showCheck(qint64 defect); // its pose on both sides
    /// The open build against the one the defect was seen on, in its pose.
    void layBesideThen(qint64 defect);
    qint64 shownCheck() const { return shownCheck_; }
    // What a person says of a verdict: kept as an event, undoable where it moves the defect
    void close(const QVector<qint64>& defects);
    void keep(const QVector<qint64>& defects);          // it stays as it is, with the verdict
    void giveBack(qint64 defect, const QString& words); // to whoever has it, being fixed again
    QVector<qint64> curedOnes() const;                  // that are still open

    // Signing off
    void signOff(const QString& use, int limit);
    void takeBack(qint64 event, const QString& reason);
    QVector<SignOff> signOffs() const { return signOffs_; } // of this character, newest first
    void printSignOff(const SignOff& signOff, const QString& path);

signals:
    void comparisonChanged(QPrivateSignal); // another, none, or under way
    void poseChanged(QPrivateSignal);
    void checksChanged(QPrivateSignal);
    void signOffsChanged(QPrivateSignal);

private:
    struct Against {
        enum What { Nothing, Build, File, LeftRight, Method, Variant, Trial } what = Nothing;
        qint64 build = 0;
        int number = 0;
        QString path, hash;
        hobble::Variant variant{};
        hobble::Trial trial{};
        bool operator==(const Against&) const = default;
    };
    QString buildName() const; // of the open one
    void set(const Against& against);
    void begin();
    void take(std::shared_ptr<const Comparison> comparison);
    void drop(const QString& why);
    void look();
    void runCame();
    void readSignOffs();
    void say(const QVector<qint64>& defects, std::optional<DefectState> to, const QString& words);

    BuildDesk& build_;
    PlanDesk& plan_;
    RunDesk& run_;
    LogDesk& log_;
    PoseView before_, now_;
    Against against_;
    ComparedSide kept_; // the side that is not the open build, as it was last read and run
    Against keptOf_;
    std::shared_ptr<const Comparison> comparison_;
    std::shared_ptr<const RunResult> asked_; // the run the comparison is of
    QString whyNot_;
    bool comparing_ = false, declined_ = false; // declined: a person wants it laid against nothing
    int motion_ = -1, joint_ = -1;
    double poseAt_ = 0;
    std::optional<DefectChecks> checks_;
    std::shared_ptr<const RunResult> checkedRun_;
    QSet<qint64> said_;
    qint64 shownCheck_ = 0, shownWhenCome_ = 0;
    QVector<SignOff> signOffs_;
};

} // namespace hobble
