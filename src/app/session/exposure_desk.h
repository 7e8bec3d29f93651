#pragma once
// The show's own clips: where they are, how far they take the character along its plan, and a moment of one
// of them looked at. Counted in the background, beside the queue of long work, so that a run waits for
// nothing.
#include "app/session/pose_desk.h"
#include "app/session/run_desk.h"
#include "core/exposure/fault_use.h"
#include "io/exposure_scan.h"

namespace hobble {

class ExposureDesk : public Desk {
    Q_OBJECT
public:
    ExposureDesk(Shared& shared, BuildDesk& build, PlanDesk& plan, PoseDesk& pose, RunDesk& run,
                 LogDesk& log);
    ~ExposureDesk() override;

    // Where the clips are: folders and files, kept for each log, for a log is a show
    const QStringList& places() const { return places_; }
    void setPlaces(const QStringList& places); // undoable

    // Counting
    bool counting() const { return scans_.busy(); }
    int percent() const { return percent_; }
    void count(); // what is new; all else is known
    void stop() { scans_.cancel(); }
    /// Null while nothing was counted.
    const std::shared_ptr<const Exposure>& exposure() const { return exposure_; }
    const QStringList& notes() const { return notes_; } // places and files that could not be read
    bool stopped() const { return stopped_; }           // before its end

    // Of what is shown
    UsePast past(const Finding& finding) const;
    /// Of the fault a finding is a sign of; nothing where there is none.
    std::optional<FaultUse> ofFault(int finding) const;
    /// In words, with the motion where it is another sign's.
    QString wordsOf(const FaultUse& use, int finding) const;
    /// Motions that clips take past the planned range, those with most frames first.
    struct Wider {
        int motion = -1;
        double furthest = 0; // in the motion's unit
        UsePast past;
    };
    std::vector<Wider> pastPlan() const;
    std::vector<int> notMoved() const; // motions that no clip tells of
    void widen(int motion, double to); // its range in the plan, undoable

    // Where faults meet
    bool meeting() const { return meets_.busy(); }
    int meetingPercent() const { return metPercent_; }
    void stopMeeting() { meets_.cancel(); }
    void findMeetings(); // of the run with the clips; frames are posed again
    /// The worst first; nothing while they were not looked for, in this run and these clips.
    const std::optional<std::vector<Meeting>>& meetings() const { return meetings_; }
    QString wordsOf(const Meeting& meeting) const;
    void lookAt(const Meeting& meeting);

    /// Whether what no clip reaches is logged one severity lighter; kept for each log, for a team decides it.
    bool proposesLighter() const { return lighter_; }
    void setProposesLighter(bool on); // undoable

    /// The character in a frame of a clip, on Review; and the clip at that frame, on Plan.
    void lookAt(int clip, std::uint32_t frame, int joint);

    // The log
    /// How many of this character's open defects would be told something new.
    int untold() const;
    void tellLog(); // as events of the defects

signals:
    void placesChanged(QPrivateSignal);
    void exposureChanged(QPrivateSignal);
    void countingChanged(QPrivateSignal); // begun, further, ended
    void meetingsChanged(QPrivateSignal); // found, looked for, or no longer true
    void untoldChanged(QPrivateSignal);   // the log, or what could be told it
    void frameWanted(QPrivateSignal);     // a frame is looked at

private:
    bool keepPlaces(const QStringList& places);
    void readPlaces();
    void take(std::shared_ptr<const Exposure> exposure, const QStringList& notes, bool stopped);
    void forgetMeetings();
    bool keepLighter(bool on);
    int proposedSeverity(int finding, int severity) const;
    std::optional<UsePast> pastOf(const Defect& defect) const;

    BuildDesk& build_;
    PlanDesk& plan_;
    PoseDesk& pose_;
    RunDesk& run_;
    LogDesk& log_;
    JobQueue scans_, meets_;
    std::optional<std::vector<Meeting>> meetings_;
    std::shared_ptr<const RunResult> metIn_; // the run they are of …
    std::shared_ptr<const Subject>
        metOf_; // … and its character: another may be open before they are forgotten
    bool lighter_ = false;
    QStringList places_, notes_;
    QString readFor_; // the log places_ belong to
    std::shared_ptr<const Exposure> exposure_;
    int metPercent_ = 0;
    int percent_ = 0, asked_ = 0; // asked_: how many counts, of which only the last is taken
    bool stopped_ = false;
};

} // namespace hobble
