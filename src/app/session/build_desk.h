#pragma once
// The build that is open: its file, whether it is fit to be tested, what its joints are, in which variant it
// is worn, what the log knows of it, and which builds are delivered. Opening and roles are in build_desk.cpp,
// Intake and the log's builds in build_desk_intake.cpp, variants in build_desk_variants.cpp.
//
// Intake is always about the build itself; everything else about what it wears.
#include "app/session/log_desk.h"
#include "app/view/pose_view.h"
#include "core/character/variant.h"
#include "core/intake/check.h"
#include "io/character_read.h"
#include "io/naming_json.h"
#include "story/folder_watch.h"

#include <map>

namespace hobble {

class BuildDesk : public Desk {
    Q_OBJECT
public:
    /// What another subject means for what was known of the one before.
    enum class Change {
        Opened, // another character, or another build of it
        Roles,  // the same, with other joints' roles
        Worn    // the same, in another variant
    };

    BuildDesk(Shared& shared, LogDesk& log);

    /// Reads, prepares and inspects, off the window's thread.
    void open(const QString& path);
    QStringList recent() const; // files that were opened, the newest first
    /// What is tested: the build as it is worn. Null until one is open.
    const std::shared_ptr<const Subject>& subject() const { return subject_; }
    /// How much skin each of its joints holds, m².
    const std::vector<double>& skinHeld() const { return skinHeld_; }
    /// The same in neutral, to be seen at once.
    const std::shared_ptr<const PosedFrame>& neutral() const { return neutral_; }
    QString title() const; // "Badger postmaster"
    int number() const { return log_.build().number; }

    // Intake: is the build fit to be tested?
    PoseView& view() { return view_; } // the build in neutral
    std::shared_ptr<const Character> build() const { return build_ ? build_->character : nullptr; }
    const std::shared_ptr<const Subject>& buildSubject() const { return build_; }
    const CheckFindings& checks() const { return checks_; } // worst first
    int score() const { return build_ ? intakeScore(checks_) : -1; }
    const IntakeLimits& limits() const { return limits_; }
    void setLimits(const IntakeLimits& limits); // kept for the next start; inspects again
    void selectCheck(int check);                // an index into checks(); −1 for none
    int check() const { return check_; }
    qint64 defectOfCheck(int check) const; // that tells of it already, in this build or an earlier one; or 0
    void logCheck(int check, const QByteArray& camera, const QByteArray& picture);

    // In what unit and with which axis up its file was made, where the format leaves that open. Kept for all
    // files of the character; reads the build again.
    bool mayBePlaced() const;
    Placing placing() const;
    void setPlacing(const Placing& placing);

    // What its joints are
    void correctRole(int joint, Role role, Side side);
    const std::map<std::string, RoleCorrection>& corrections() const { return corrections_; }
    /// A profile of another character that fits this one and would change something; null when there is none.
    const NamingProfile* offeredNaming() const { return offered_ ? &*offered_ : nullptr; }
    /// What is offered is read from the places of joints whose tree lies flat, not from another character.
    bool offersChains() const { return offersChains_; }
    void useOfferedNaming();

    // Variants of the build: parts off, shapes set, drivers off
    const std::vector<Variant>& variants() const { return variants_; }
    void setVariants(const std::vector<Variant>& variants); // undoable, kept with the character
    int variant() const;                                    // the one worn; −1: none that is in the list
    bool wearsNothing() const { return subject_ == build_; }
    QString wornName() const; // of the variant worn; empty for the build itself
    void wear(int variant);   // −1: the build itself

    // Its builds, as the log knows them
    QVector<BuildState> builds() const { return builds_; }
    void note(qint64 build, const QString& note);
    /// Whether the file there is this build's: the file is then where the build is found from now on.
    void findAt(qint64 build, const QString& path);

    // Deliveries
    bool watchFolder(const QString& folder); // empty: none; kept for the next start
    QString watchedFolder() const { return watch_.folder(); }
    FolderWatch& folderWatch() { return watch_; }

    // Where things are kept
    static QString namingFolder();
    static QString limitsPath();
    static QString variantsFolder();

signals:
    // Another subject, in three steps: the desks take it; then pages are told; then what follows is begun.
    void subjectReplaced(hobble::BuildDesk::Change change, QPrivateSignal);
    void characterChanged(QPrivateSignal);
    void characterSettled(hobble::BuildDesk::Change change, QPrivateSignal);
    void intakeChanged(QPrivateSignal); // checks, roles, builds or the watched folder
    void checkChanged(QPrivateSignal);
    void variantsChanged(QPrivateSignal); // the list, or the one worn

private:
    struct Prepared {
        std::shared_ptr<const Subject> build, worn; // the same where nothing is worn
        CheckFindings checks;
        std::shared_ptr<const PosedFrame> buildNeutral, wornNeutral;
        std::vector<double> skinHeld;                 // of what is worn
        std::map<std::string, RoleCorrection> chains; // of the build, where its tree lies flat
    };
    static std::shared_ptr<const PosedFrame> neutralFrame(std::shared_ptr<const Subject> subject);
    static Prepared prepare(std::shared_ptr<const Character> character, const Variant& worn,
                            const IntakeLimits& limits,
                            const std::map<std::string, RoleCorrection>& corrections,
                            const Progress& progress);
    void opened(const QString& path, const Prepared& prepared,
                const std::map<std::string, RoleCorrection>& corrections);
    void takePrepared(const Prepared& prepared);
    void tellAll(Change change);
    bool keepLimits(const IntakeLimits& limits);
    void inspectAgain();
    bool setCorrections(const std::map<std::string, RoleCorrection>& corrections);
    void offerNaming(const std::map<std::string, RoleCorrection>& chains);
    void enterInLog();
    void keepInspection();
    void refreshBuilds();
    void remember(const QString& path);
    void delivered(const QString& path);
    void takeDelivered();
    void loadVariants();
    bool setVariantList(const std::vector<Variant>& variants);
    void dress(const Variant& variant);

    LogDesk& log_;
    std::shared_ptr<const Subject> build_, subject_; // as delivered, and as it is worn
    std::shared_ptr<const PosedFrame> neutral_;      // of what is worn
    std::vector<double> skinHeld_;
    PoseView view_;
    CheckFindings checks_;
    QStringList delivered_; // and not taken yet: one after the other, for each is a build of its own
    int check_ = -1;
    IntakeLimits limits_;
    std::map<std::string, RoleCorrection> corrections_; // by joint name
    std::optional<NamingProfile> offered_;
    bool offersChains_ = false;
    std::vector<Variant> variants_;
    Variant worn_;                 // as it was when it was put on
    std::weak_ptr<char> dressing_; // while something is being put on
    QVector<BuildState> builds_;
    FolderWatch watch_;
};

} // namespace hobble
