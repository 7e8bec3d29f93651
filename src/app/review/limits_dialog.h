#pragma once
// What counts as too much: the limits of every kind of finding, for all joints or for one role. A change is
// judged at once, and the line below says which findings came and went.
#include "app/session/run_desk.h"
#include "core/judge/matching.h"

#include <QDialog>

class QComboBox;
class QLabel;
class QTableWidget;
class QTableWidgetItem;

namespace hobble {

class LimitsDialog : public QDialog {
    Q_OBJECT
public:
    explicit LimitsDialog(RunDesk* run, QWidget* parent = nullptr);

private:
    RunDesk* run_;
    QComboBox* role_;
    QTableWidget* table_;
    QLabel* message_;
    std::vector<FindingMark> before_; // what the dialog was opened on

    std::optional<Role> role() const; // nothing: all joints
    void refresh();
    void edited(QTableWidgetItem* item);
    void tell(); // what came and went
    void complain(const QString& message);
    void open();
    void save();
};

} // namespace hobble
