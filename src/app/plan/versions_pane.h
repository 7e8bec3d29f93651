#pragma once
// The plan's versions in the log, what has changed since the last run and between versions, and the plan out
// again: as JSON, and as a test clip.
#include "app/session/run_desk.h"

#include <QWidget>

class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;

namespace hobble {

class VersionsPane : public QWidget {
    Q_OBJECT
public:
    VersionsPane(BuildDesk* build, PlanDesk* plan, RunDesk* run, LogDesk* log, QWidget* parent = nullptr);

private:
    void refresh();
    void refreshChanges();

    BuildDesk* build_;
    PlanDesk* plan_;
    RunDesk* run_;
    LogDesk* log_;
    QListWidget* versions_ = nullptr;
    QLabel *since_ = nullptr, *differs_ = nullptr;
    QLineEdit* note_ = nullptr;
    QPushButton* take_ = nullptr;
};

} // namespace hobble
