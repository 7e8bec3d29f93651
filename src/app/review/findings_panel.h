#pragma once
// What the run found: faults at this joint, or everywhere; each in a sentence with its cause, its signs
// folded beneath, and "Log defect".
#include "app/session/exposure_desk.h"

#include <QWidget>

class QLabel;
class QMenu;
class QPushButton;
class QVBoxLayout;

namespace hobble {

class FindingsPanel : public QWidget {
    Q_OBJECT
public:
    explicit FindingsPanel(BuildDesk* build, PlanDesk* plan, RunDesk* run, ExposureDesk* exposure,
                           LogDesk* log, QWidget* parent = nullptr);
    std::vector<int> shownFaults() const; // the findings that tell them, in the order of the cards

signals:
    void logWanted(int finding);
    void settleWanted(int finding, bool accepts);
    void mendWanted(int finding);
    void defectWanted(qint64 id);
    void mergeWanted(int finding, qint64 defect);

private:
    void rebuild();
    void markChosen();
    QWidget* card(int finding);
    void fillMergeMenu(QMenu* menu, int finding);
    QWidget* foldedSigns(const Fault& fault);
    QWidget* useLine(int finding); // null where nothing was counted
    BuildDesk* build_;
    PlanDesk* plan_;
    RunDesk* run_;
    ExposureDesk* exposure_;
    LogDesk* log_;
    QLabel *title_, *count_;
    QPushButton* scope_;
    QVBoxLayout* cards_;
    bool everywhere_ = false;
    int builtForJoint_ = -2;
    int opened_ = -1; // the fault whose signs are unfolded
};

} // namespace hobble
