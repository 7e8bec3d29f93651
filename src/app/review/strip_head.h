#pragma once
// Above the strips: their order, which of them are shown and by which measure, the skinning method, and what
// the plan costs.
#include "app/review/strip_model.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QPushButton;

namespace hobble {

class StripHead : public QWidget {
    Q_OBJECT
public:
    StripHead(StripModel* model, BuildDesk* build, PlanDesk* plan, RunDesk* run, ExposureDesk* exposure,
              QWidget* parent = nullptr);
    void clearFilter();

signals:
    void compareWanted(); // both builds side by side

private:
    QComboBox* combo(const QString& name, const QString& accessible);
    void listJoints();
    void applyFilter();
    void tellPlan();
    void tellUse();
    StripModel* model_;
    BuildDesk* build_;
    PlanDesk* plan_;
    RunDesk* run_;
    ExposureDesk* exposure_;
    QComboBox *measure_, *severity_, *joint_, *reached_;
    QPushButton *mostUsed_, *changed_, *compare_, *good_;
    QLabel* planLine_;
};

} // namespace hobble
