#pragma once
// The middle of the Review page: the character, what it is coloured by, what is shown of it, and from where.
#include "app/review/sweep.h"
#include "app/view/legend.h"
#include "app/view/marking_tool.h"

#include <QWidget>

#include <map>

class QBoxLayout;
class QComboBox;
class QLabel;
class QMenu;
class QPushButton;

namespace hobble {

class FlowLayout;

class Stage : public QWidget {
    Q_OBJECT
public:
    Stage(BuildDesk* build, RunDesk* run, QUndoStack* undo, Sweep* sweep, QWidget* parent = nullptr);

    MarkingTool* marking() const { return marking_; } // null there, too
    Viewport* viewport() const { return viewport_; }  // null where there is no OpenGL
    void changeShown(const std::function<void(Shown&)>& change);
    void stepIsolation(); // whole, limb, region, whole
    /// Whether the view stays where it is, whatever motion is looked at.
    bool viewHeld() const { return held_; }
    void setViewHeld(bool held);
    void restyle(); // after a change of theme

signals:
    void logMarkedWanted();
    void mendMarkedWanted();

private:
    QWidget* buildHead();
    QWidget* buildFoot();
    QPushButton* word(FlowLayout* into, const QString& text, const QString& name, bool checkable);
    QMenu* menuOf(QPushButton* button);
    void fillParts(QMenu* menu);
    void fillShow(QMenu* menu);
    void fillSweep(QMenu* menu);
    void refresh();
    int signHere() const; // of the fault looked at, in the pose shown; -1: it is not seen here
    void showPatch();
    void takePose();
    void lookAtFinding();
    void lookAtMotion();
    BuildDesk* build_;
    RunDesk* run_;
    Sweep* sweep_;
    Viewport* viewport_ = nullptr;
    MarkingTool* marking_ = nullptr;
    Legend* legend_ = nullptr;
    QComboBox* colours_ = nullptr;
    QBoxLayout* headRow_ = nullptr;
    QWidget* views_ = nullptr;
    QLabel *title_ = nullptr, *subtitle_ = nullptr;
    QPushButton *elsewhere_ = nullptr, *hold_ = nullptr;
    bool held_ = false;
    std::string looked_;                  // the motion looked at
    std::map<std::string, Camera> looks_; // by motion: from where it was left
    int comingTo_ = -1;                   // the motion of a finding that is being gone to
    QPushButton *skeleton_ = nullptr, *wire_ = nullptr, *smooth_ = nullptr, *mark_ = nullptr,
                *play_ = nullptr;
};

} // namespace hobble
