#pragma once
// What is open: the character, its plan, its run, the pose looked at, and the production log. Pages talk to
// this and listen to its signals; they compute nothing themselves.
#include "app/session/folder_watch.h"
#include "app/session/job_queue.h"
#include "app/session/log_link.h"
#include "app/session/pose_worker.h"
#include "core/character/variant.h"
#include "core/intake/check.h"
#include "core/pose/plan_diff.h"
#include "core/run/cost.h"
#include "core/run/spot.h"
#include "io/naming_json.h"
#include "log/defect_list.h"
#include "log/kept_edits.h"

#include <QThreadPool>
#include <QUndoStack>

#include <map>

namespace hobble {

class PlanDesk;

/// What the plan found on one variant of the character.
struct VariantResult {
    QString name;
    int findings = 0, worst = 0;
    int fresh = 0;             // findings the build itself does not have
    std::vector<QString> new_; // those, in words; worst first
};

class Session : public QObject {
    Q_OBJECT
public:
    explicit Session(QObject* parent = nullptr);
    ~Session() override;

    // The character under test
    /// Reads, prepares, inspects and runs the default plan, off the window's thread.
    void openFile(const QString& path);
    QStringList recent() const; // files that were opened, the newest first
    void runAgain();
    void setMethod(Skinning method);
    void setLimits(const Limits& limits); // kept for the next start; judges the run again
    Skinning method() const { return method_; }
    std::shared_ptr<const Subject> subject() const { return subject_; }
    const Plan& plan() const { return plan_; }
    std::shared_ptr<const RunResult> run() const { return run_; } // null until one has finished
    QDateTime runAt() const { return runAt_; }
    /// What is known of a motion: while a run is under way, what it has finished already; null when nothing.
    const MotionResult* resultOf(int motion) const;
    /// The nearest earlier build of the character with a run in the log; null when there is none.
    struct Earlier {
        int build = 0;
        std::map<std::string, MotionResult> motions; // by id
        const MotionResult* of(const Motion& motion) const;
    };
    const Earlier* earlier() const { return earlier_ ? &*earlier_ : nullptr; }
    void askWorstMotionsAt(std::uint32_t fileVertex); // answered by worstMotionsFound
    const Limits& limits() const { return limits_; }
    static QString limitsPath();    // where they are kept
    QString characterTitle() const; // "Badger postmaster"
    int buildNumber() const { return build_.number; }

    // The plan: what shall it do?
    /// Undoable. What was measured of motions that stay as they are stays.
    void changePlan(const Plan& plan, const QString& what);
    /// The plan the run shown was started with; null when there is none.
    const Plan* ranPlan() const { return run_ && ranPlan_ ? &*ranPlan_ : nullptr; }
    std::vector<PlanChange> changesSinceRun() const;
    RunCost cost() const;             // of the whole plan, measured from nothing
    RunCost costOfWhatIsOpen() const; // of the motions that have no results yet
    Plan standardPlan() const;        // what the rules make of this character
    QVector<PlanVersion> planVersions() const { return planVersions_; } // newest first
    void keepPlan(const QString& note); // as a version of its own, with a word why
    void takePlanVersion(qint64 id);    // undoable
    PlanDesk* desk() { return desk_.get(); }

    // Variants of the build: parts off, shapes set, drivers off
    const std::vector<Variant>& variants() const { return variants_; }
    void setVariants(const std::vector<Variant>& variants); // undoable, kept with the character
    int variant() const { return variant_; }                // −1: the build itself
    void useVariant(int variant);
    void testVariants(); // the plan over all of them
    const std::vector<VariantResult>& variantResults() const { return variantResults_; }
    std::shared_ptr<const Character> buildCharacter() const { return built_; } // without a variant
    QString buildHash() const { return build_.hash; }

    // Intake: is the build fit to be tested?
    const CheckFindings& checks() const { return checks_; } // worst first
    int intakeScore() const { return subject_ ? hobble::intakeScore(checks_) : -1; }
    const IntakeLimits& intakeLimits() const { return intakeLimits_; }
    void setIntakeLimits(const IntakeLimits& limits); // kept for the next start; inspects again
    static QString intakeLimitsPath();
    void selectCheck(int check); // an index into checks(); −1 for none
    int check() const { return check_; }
    qint64 defectOfCheck(int check) const; // that tells of it already, in this build or an earlier one; or 0
    void logCheck(int check, const QByteArray& camera, const QByteArray& picture);
    std::shared_ptr<const PosedFrame> neutralFrame() const { return neutralFrame_; }

    // What its joints are
    void correctRole(int joint, Role role, Side side);
    const std::map<std::string, RoleCorrection>& corrections() const { return corrections_; }
    /// A profile of another character that fits this one and would change something; null when there is none.
    const NamingProfile* offeredNaming() const { return offered_ ? &*offered_ : nullptr; }
    void useOfferedNaming();
    static QString namingFolder();

    // Its builds, as the log knows them
    QVector<BuildState> builds() const { return builds_; }
    qint64 buildId() const { return build_.id; }
    void noteBuild(qint64 id, const QString& note);
    /// Whether the file there is this build's: the file is then where the build is found from now on.
    void findBuildAt(qint64 id, const QString& path);

    // Deliveries
    bool watchFolder(const QString& folder); // empty: none; kept for the next start
    QString watchedFolder() const { return watch_.folder(); }
    FolderWatch& folderWatch() { return watch_; }

    // The pose looked at
    void setPose(int motion, double degrees);
    void setFreePose(const Pose& pose, int joint,
                     double degrees); // a logged pose whose motion is not in the plan
    int motion() const { return motion_; }
    double degrees() const { return degrees_; }
    int joint() const; // the one the reading is about; -1 when none
    std::shared_ptr<const PosedFrame> frame() const { return frame_; }
    /// Of the frame shown; null until it has been computed.
    std::shared_ptr<const PosedDetail> detail() const {
        return detail_ && detail_->frame == frame_ ? detail_ : nullptr;
    }
    void setWish(const FrameWish& wish);
    const FrameWish& wish() const { return wish_; }

    // The finding looked at, an index into run()->findings; -1 for none
    void selectFinding(int finding);
    int finding() const { return finding_; }
    void showFinding(int finding); // selects it and goes to its peak

    // The log
    void openLog(const QString& place); // a file, or postgresql://…
    QString logPlace() const { return link_.place(); }
    LogState logState() const { return link_.state(); }
    bool hasLog() const { return link_.canRead() || link_.state() == LogState::Lost; }
    /// Whether a change is written, or at least kept until it can be.
    bool takesChanges() const { return link_.state() == LogState::Ready || link_.state() == LogState::Lost; }
    QDateTime logReadAt() const { return logReadAt_; } // what is shown is from then
    QString author() const;
    void setAuthor(const QString& name);
    const DefectList& defectList() const { return list_; }
    const QVector<Defect>& defects() const { return list_.defects(); }
    QVector<Person> people() const { return people_; }
    int openDefects() const;
    /// The defect of this character that tells of a finding of the run, in this build or an earlier one; 0
    /// when there is none.
    qint64 defectOf(int finding) const;
    void logDefect(int finding, const QByteArray& camera, const QByteArray& picture);
    /// Takes a way out with it, for a reason; logs it first where it is not.
    void settleFinding(int finding, DefectState state, const QString& reason, const QByteArray& camera,
                       const QByteArray& picture);
    /// Open defects of this character that a finding could be another sign of, the likeliest first.
    QVector<Defect> mergeable(int finding) const;
    void mergeFinding(int finding, qint64 defect);
    /// What a person marked in the pose shown and no rule found; `triangles` of the surface, ascending.
    void logByEye(std::vector<std::uint32_t> triangles, Kind kind, int severity, const QString& note,
                  const QByteArray& camera, const QByteArray& picture);
    /// The kind that fits best what is marked; nothing while the pose is still being measured.
    std::optional<Kind> kindAt(const std::vector<std::uint32_t>& triangles) const;
    /// One wish for any number of defects, undone as one. "state" wants a reason where needsReason() says so.
    void changeDefects(const QVector<qint64>& ids, const QString& field, const QString& value,
                       const QString& reason = {});
    void changeDefect(qint64 id, const QString& field, const QString& value) {
        changeDefects({id}, field, value);
    }
    void comment(const QVector<qint64>& ids, const QString& text);
    /// The others become duplicates of the first.
    void mergeDefects(qint64 keep, const QVector<qint64>& others, const QString& reason);
    /// What a defect could be taken apart into.
    struct SplitPart {
        QString words;
        qint64 duplicate = 0; // a defect that was merged into it
        QByteArray finding;   // or a finding that was: its JSON
        QString part;         // or the marks on one part of the character
    };
    QVector<SplitPart> partsOf(qint64 id);
    void splitDefect(qint64 id, const SplitPart& part);
    Result<Defect> wholeDefect(qint64 id); // with pose, camera, marks and picture
    Result<QVector<DefectEvent>> historyOf(qint64 id);
    void askMentions(const QString& person, std::function<void(QSet<qint64>)> then);
    /// Something with the log that takes its time, or that only one page asks for.
    LogLink& logLink() { return link_; }
    // What was said while the log did not answer
    QVector<KeptEdit> keptEdits() const { return kept_ ? kept_->edits() : QVector<KeptEdit>(); }
    void writeKeptEdits();
    void dropKeptEdit(int index);
    /// A table (.csv) changes and adds defects, a log (.json) adds what is new; what could not be taken is
    /// told.
    void takeIntoLog(const QString& path);
    void backUpLog(const QString& path);
    /// Puts a backup in the place of the open file, which is kept beside it. Not for a server's log.
    void restoreLog(const QString& backup);

    void addPerson(const QString& name);
    void renamePerson(qint64 id, const QString& name);
    void setPersonMail(qint64 id, const QString& mail);
    void removePerson(qint64 id);
    void refreshLog();

    JobQueue& jobs() { return jobs_; }
    QUndoStack& undoStack() { return undo_; }

signals:
    void characterChanged();
    void intakeChanged(); // checks, roles, builds or the watched folder
    void checkChanged();
    void limitsChanged();
    void planChanged();     // the plan, its versions, or what a run of it costs
    void variantsChanged(); // the list, the one in use, or what was found on them
    void runChanged();
    void motionMeasured(int motion);                            // of the run under way
    void poseChanged();                                         // motion or degrees asked for
    void frameReady(std::shared_ptr<const hobble::PosedFrame>); // and computed
    void detailReady();
    void worstMotionsFound(std::uint32_t fileVertex, const std::vector<hobble::SpotMotion>& motions);
    void findingChanged();
    void logChanged();
    void logStateChanged(); // and what is kept for it
    void defectLogged(qint64 id);
    void failed(const QString& message);
    void told(const QString& message); // something went well and is worth a line

private:
    enum class Why { Measure, JudgeAgain };
    struct Prepared {
        std::shared_ptr<const Subject> subject;
        CheckFindings checks;
        std::shared_ptr<const PosedFrame> neutral;
    };
    Prepared prepare(std::shared_ptr<const Character> character, const IntakeLimits& limits,
                     const std::map<std::string, RoleCorrection>& corrections,
                     const Progress& progress) const;
    void takePrepared(Prepared prepared);
    void inspectAgain();
    bool setCorrections(const std::map<std::string, RoleCorrection>& corrections);
    void offerNaming();
    void keepInspection();
    void refreshBuilds();
    void remember(const QString& path);
    void delivered(const QString& path);
    bool setPlan(const Plan& plan);
    void loadPlan();
    void refreshPlanVersions();
    bool setVariantList(const std::vector<Variant>& variants);
    void loadVariants();
    static QString variantsFolder();
    void startRun(Why why = Why::Measure);
    void finishRun(std::shared_ptr<const RunResult> result, Why why);
    std::optional<double> ghostDegrees() const;
    void requestFrame();
    void enterBuild();
    void matchDefects();
    struct Step; // one change that can be taken back
    bool write(const QVector<DefectChange>& changes, QVector<qint64>* versions = nullptr);
    void writeUndoable(const QString& text, QVector<Step> steps);
    bool keep(const QVector<DefectChange>& changes);
    bool canLog();
    void watchLog();
    void logOpened(const QString& error);
    void readMarks();
    struct News; // what was read of the log
    void takeNews(News news);
    static Result<News> newsOf(const ProductionLog& log, qint64 after, const QString& character);
    bool keepLimits(const Limits& limits);
    const Defect* defectCalled(qint64 id) const { return list_.find(id); }
    static QString keptPath();
    const Finding* findingAt(int index) const;
    qint64 enterDefect(const DefectFacts& facts, int severity);
    DefectFacts factsToLog(const Finding& finding, const QByteArray& camera, const QByteArray& picture) const;
    void pushLogged(qint64 id);
    void loadEarlier();
    void takeMotion(const std::shared_ptr<const Subject>& subject, std::size_t motion, const MotionResult& m);
    bool roster(const Result<Done>& result); // reports it, reads the log anew
    void setPersonActive(qint64 id, bool active, const QString& text);
    void fail(const std::string& message) { emit failed(QString::fromStdString(message)); }

    std::shared_ptr<const Subject> subject_;
    CheckFindings checks_;
    int check_ = -1;
    IntakeLimits intakeLimits_;
    std::shared_ptr<const PosedFrame> neutralFrame_;
    std::map<std::string, RoleCorrection> corrections_; // by joint name
    std::optional<NamingProfile> offered_;
    QVector<BuildState> builds_;
    FolderWatch watch_;
    Plan plan_;
    std::optional<Plan> ranPlan_;
    QVector<PlanVersion> planVersions_;
    double pace_ = 0; // seconds a pose took in the last run that measured most of its poses
    std::shared_ptr<const Character> built_;
    std::vector<Variant> variants_;
    int variant_ = -1;
    std::vector<VariantResult> variantResults_;
    std::unique_ptr<PlanDesk> desk_;
    std::shared_ptr<const RunResult> run_;
    QDateTime runAt_;
    Limits limits_;
    Skinning method_ = Skinning::Linear;
    int motion_ = -1, freeJoint_ = -1, finding_ = -1;
    double degrees_ = 0;
    Pose freePose_;
    std::shared_ptr<const PosedFrame> frame_;
    std::shared_ptr<const PosedDetail> detail_;
    FrameWish wish_;
    std::vector<MotionResult> arriving_; // of the run under way, per motion
    std::optional<Earlier> earlier_;
    LogLink link_;
    std::unique_ptr<KeptEdits> kept_;
    Build build_;
    DefectList list_;
    qint64 newestEvent_ = 0; // that list_ knows of
    QDateTime logReadAt_;
    bool reading_ = false;            // the list is on its way
    QHash<qint64, QByteArray> marks_; // of this character's defects: JSON
    std::vector<qint64> defectOf_;    // per finding of the run
    QVector<Person> people_;
    QVector<std::pair<qint64, QByteArray>> merged_; // findings that are another sign of a defect
    QUndoStack undo_;
    std::unique_ptr<MeasuredStore> measured_; // so that nothing is measured twice
    PoseWorker poses_;
    JobQueue jobs_;
    QThreadPool asides_; // short questions that wait for no job
};

} // namespace hobble
