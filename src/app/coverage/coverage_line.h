#pragma once
// What the plan moves of the skin, in one line, wherever it matters; a press shows what it does not move,
// why, and puts it into the plan.
#include "app/session/plan_desk.h"

#include <QDialog>
#include <QWidget>

class QLabel;
class QPushButton;
class QTreeWidget;

namespace hobble {

class CoverageLine : public QWidget {
    Q_OBJECT
public:
    CoverageLine(BuildDesk* build, PlanDesk* plan, QWidget* parent = nullptr);

private:
    void refresh();

    BuildDesk* build_;
    PlanDesk* plan_;
    QLabel* words_;
    QPushButton* which_;
};

/// The joints that no motion turns: share of the skin, why, and a way into the plan. Stays open while they go
/// in.
class CoverageDialog : public QDialog {
    Q_OBJECT
public:
    CoverageDialog(BuildDesk* build, PlanDesk* plan, QWidget* parent = nullptr);

private:
    void refresh();
    void putIn();

    BuildDesk* build_;
    PlanDesk* plan_;
    QLabel* words_;
    QTreeWidget* joints_;
    QPushButton* put_;
};

} // namespace hobble
