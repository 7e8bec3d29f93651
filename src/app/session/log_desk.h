#pragma once
// The production log as the window has it: who opened it, what is in it, what others change in it, and every
// change of one's own, undoable and none over another lead's. Its defects are changed in
// log_desk_changes.cpp, its roster in log_desk_roster.cpp.
#include "app/session/desk.h"
#include "app/session/keyring.h"
#include "app/session/log_link.h"
#include "log/defect_list.h"
#include "log/kept_edits.h"

#include <QDateTime>

namespace hobble {

class LogDesk : public Desk {
    Q_OBJECT
public:
    explicit LogDesk(Shared& shared);

    void open(const QString& place); // a file, or postgresql://…
    QString place() const { return link_.place(); }
    LogState state() const { return link_.state(); }
    bool there() const { return link_.canRead() || link_.state() == LogState::Lost; }
    /// Whether a change is written, or at least kept until it can be.
    bool takesChanges() const { return link_.state() == LogState::Ready || link_.state() == LogState::Lost; }
    QDateTime readAt() const { return readAt_; } // what is shown is from then
    /// Something with the log that takes its time, or that only one desk or page asks for.
    LogLink& link() { return link_; }
    const LogLink& link() const { return link_; }

    /// Whom it is signed with; until that was said, the account's name.
    QString author() const;
    bool authorKnown() const;
    void setAuthor(const QString& name);

    /// The build that is open, in the log. Fails where it cannot be entered; it is then none.
    Result<Build> enterBuild(const QString& character, const QString& hash, const QString& formerHash,
                             const QString& path);
    const Build& build() const { return build_; }
    QString character() const { return character_; } // that is open; empty: none

    const DefectList& list() const { return list_; }
    const QVector<Defect>& defects() const { return list_.defects(); }
    const Defect* find(qint64 id) const { return list_.find(id); }
    int openDefects() const;
    const QHash<qint64, QByteArray>& marks() const { return marks_; } // of this character's defects: JSON
    const QVector<std::pair<qint64, QByteArray>>& merged() const {
        return merged_;
    }                                // other signs of a defect
    Result<Defect> whole(qint64 id); // with pose, camera, marks and picture
    Result<QVector<DefectEvent>> historyOf(qint64 id);
    /// What of the log is shown, kept under a name for everybody.
    const QVector<TeamFilter>& teamFilters() const { return teamFilters_; }
    /// Undoable; an empty one drops what has that name.
    void keepTeamFilter(const QString& name, const QByteArray& filter);
    /// What the team took for good: one build in the log, of any character.
    const std::optional<Reference>& reference() const { return reference_; }
    void setReference(qint64 build); // 0: none any more. Undoable.
    void askMentions(const QString& person, std::function<void(QSet<qint64>)> then);
    void refresh();      // waits, for whoever shows what they have just changed
    void refreshLater(); // what others have changed

    // Logging
    bool canLog(); // says why not
    /// Undoable. The new defect, or 0 where it could not be entered.
    qint64 logDefect(const DefectFacts& facts, int severity);
    /// Takes a way out with a defect, for a reason; logs it first where `known` is 0.
    void settle(qint64 known, const DefectFacts& facts, int severity, DefectState state,
                const QString& reason);
    /// A finding is another sign of a defect.
    void mergeFinding(const QByteArray& finding, qint64 defect);
    void pointTo(qint64 id); // something is in the log already

    // Changing
    /// One wish for any number of defects, undone as one. "state" wants a reason where needsReason() says so.
    void change(const QVector<qint64>& ids, const QString& field, const QString& value,
                const QString& reason = {});
    void comment(const QVector<qint64>& ids, const QString& text);
    /// Verdicts of a check on a new build: each an event; and where a person wants it, where the defect goes
    /// with it, undoable as one. Whether they were written.
    struct Checked {
        DefectChange verdict;
        std::optional<DefectState> to;
        QString reason;
    };
    bool judge(const QVector<Checked>& checked);
    /// The others become duplicates of the first.
    void merge(qint64 keep, const QVector<qint64>& others, const QString& reason);
    QVector<SplitPart> partsOf(qint64 id);
    void split(qint64 id, const SplitPart& part);

    // What was said while the log did not answer
    QVector<KeptEdit> keptEdits() const { return kept_ ? kept_->edits() : QVector<KeptEdit>(); }
    void writeKeptEdits();
    void dropKeptEdit(int index);

    /// A table (.csv) changes and adds defects, a log (.json) adds what is new; what could not be taken is
    /// told.
    void takeIn(const QString& path);
    void backUp(const QString& path);
    /// Puts a backup in the place of the open file, which is kept beside it. Not for a server's log.
    void restore(const QString& backup);

    /// Long work with the log; what comes of it is told.
    void work(const QString& title, std::function<Result<QString>(JobControl&)> does);

    // Who defects can be given to
    QVector<Person> people() const { return people_; }
    void addPerson(const QString& name);
    void renamePerson(qint64 id, const QString& name);
    void setPersonMail(qint64 id, const QString& mail);
    void removePerson(qint64 id);

    /// The password of the server that asked for it; kept in the desktop's keyring where that is wished.
    void givePassword(const QString& password, bool keep);
    void withoutPassword(); // the log stays shut
    /// What lies between here and the log's server: "encrypted (TLSv1.3)"; empty for a file.
    QString wireWords() const;

signals:
    void opened(QPrivateSignal);       // another log; what is open is to be entered in it
    void logChanged(QPrivateSignal);   // the list, the people, or who one is
    void stateChanged(QPrivateSignal); // and what is kept for it
    void defectLogged(qint64 id, QPrivateSignal);
    void passwordWanted(bool again, QPrivateSignal); // by the server; again: the last one was not taken
    void authorWanted(QPrivateSignal); // the first change is signed with a name nobody has given

private:
    struct News; // what was read of the log
    void watch();
    void logOpened(const QString& error);
    void askForPassword();
    void takeNews(News news);
    static Result<News> newsOf(const ProductionLog& log, qint64 after, const QString& character);
    void readMarks();
    static QString keptPath();
    qint64 enter(const DefectFacts& facts, int severity);
    void entered(qint64 id);
    struct Step; // one change that can be taken back
    bool write(const QVector<DefectChange>& changes, QVector<qint64>* versions = nullptr);
    void writeUndoable(const QString& text, QVector<Step> steps);
    bool notAnswered() const { return link_.unanswered() || link_.state() == LogState::Lost; }
    bool keep(const QVector<DefectChange>& changes);
    bool keep(KeptEdit edit);
    enum class Came { Written, Kept, Failed };
    Came make(const TeamChange& change, const QString& words); // reports it, reads the log anew
    void makeUndoable(const QString& words, const TeamChange& change, const TeamChange& back);

    LogLink link_;
    Keyring keyring_;
    enum class Tried { Nothing, Keyring, Typed } passwordTried_ = Tried::Nothing;
    QString passwordToKeep_;
    std::unique_ptr<KeptEdits> kept_;
    Build build_;
    QString character_;
    DefectList list_;
    qint64 newestEvent_ = 0; // that list_ knows of
    QDateTime readAt_;
    bool reading_ = false;   // the list is on its way
    bool readAgain_ = false; // and has changed meanwhile
    int taken_ = 0;          // how often something was read
    QHash<qint64, QByteArray> marks_;
    QVector<Person> people_;
    QVector<std::pair<qint64, QByteArray>> merged_;
    std::optional<Reference> reference_;
    QVector<TeamFilter> teamFilters_;
    bool askedAuthor_ = false;
};

} // namespace hobble
