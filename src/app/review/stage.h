#pragma once
// The middle of the Review page: the character, what it is coloured by, what is shown of it, and from where.
#include "app/review/marking_tool.h"
#include "app/review/sweep.h"
#include "app/view/legend.h"

#include <QWidget>

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
    void restyle();       // after a change of theme

signals:
    void logMarkedWanted();

private:
    QWidget* buildHead();
    QWidget* buildFoot();
    QPushButton* word(FlowLayout* into, const QString& text, const QString& name, bool checkable);
    QMenu* menuOf(QPushButton* button);
    void fillParts(QMenu* menu);
    void fillShow(QMenu* menu);
    void fillSweep(QMenu* menu);
    void refresh();
    void showPatch(); // of the finding looked at
    void lookAtFinding();
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
    QPushButton *skeleton_ = nullptr, *wire_ = nullptr, *smooth_ = nullptr, *mark_ = nullptr,
                *play_ = nullptr;
};

} // namespace hobble
