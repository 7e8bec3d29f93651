#pragma once
// The limits of Intake, beside the page: what comes and goes is seen there.
#include "app/session/build_desk.h"

#include <QDialog>

class QDoubleSpinBox;
class QLabel;

namespace hobble {

class IntakeLimitsDialog : public QDialog {
    Q_OBJECT
public:
    explicit IntakeLimitsDialog(BuildDesk* build, QWidget* parent = nullptr);
    ~IntakeLimitsDialog() override;

private:
    void take(); // what the boxes say
    void fill(const IntakeLimits& limits);
    BuildDesk* build_;
    std::vector<QDoubleSpinBox*> boxes_; // as intakeLimitFields()
    std::map<Role, QDoubleSpinBox*> loops_;
    QLabel* message_ = nullptr;
    bool showing_ = false;
};

} // namespace hobble
