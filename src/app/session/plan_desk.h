#pragma once
// The plan: what shall the character do? Changed undoably, kept in the log as versions, written to files.
#include "app/session/build_desk.h"
#include "core/pose/coverage.h"

namespace hobble {

class PlanDesk : public Desk {
    Q_OBJECT
public:
    PlanDesk(Shared& shared, BuildDesk& build, LogDesk& log);

    const Plan& plan() const { return plan_; }
    /// −1 or a motion of the plan.
    const Motion* motion(int at) const;
    /// Undoable. What was measured of motions that stay as they are stays.
    void change(const Plan& plan, const QString& what);
    Plan standardPlan() const; // what the rules make of this character
    void takeStandardPlan();
    /// Another range for a motion and, where `bothSides`, for its fellow of the other side.
    void setRange(const std::string& motion, double limit, bool bothSides);
    void setOn(const std::vector<std::string>& motions, bool on);
    void takeOut(const std::string& motion); // poses, clips and shapes; a joint's motion is switched off
    void put(const std::vector<Motion>& motions, const QString& what); // in the place of those of the same id

    // What it does not move
    Coverage coverage() const;                  // of the character worn; all of it where there is none
    void putIn(const std::vector<int>& joints); // motions for these, undoable

    // Its versions, in the log
    QVector<PlanVersion> versions() const { return versions_; } // newest first
    void keepVersion(const QString& note);                      // as one of its own, with a word why
    void takeVersion(qint64 id);

    // Files
    void openFile(const QString& path);
    void saveFile(const QString& path);
    void saveTestClip(const QString& path); // a clip of every motion, its frames named

signals:
    // Another plan, in three steps: the desks take it; then pages are told; then what follows from it.
    void planReplaced(QPrivateSignal);
    void planChanged(QPrivateSignal); // or its versions
    void planSettled(QPrivateSignal);

private:
    void takeSubject(BuildDesk::Change change);
    bool set(const Plan& plan);
    void keep(const QString& note);
    void refreshVersions();
    void loadNewest();

    BuildDesk& build_;
    LogDesk& log_;
    Plan plan_;
    QVector<PlanVersion> versions_;
};

} // namespace hobble
