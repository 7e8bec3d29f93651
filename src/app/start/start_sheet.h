#pragma once
// Where one begins while no character is open: open one, or the demo; what was opened before, with its
// picture and how it stood; the team's log, and the folder that is watched for deliveries.
#include "app/session/build_desk.h"

#include <QWidget>

class QLabel;
class QPushButton;

namespace hobble {

class FlowLayout;

class StartSheet : public QWidget {
    Q_OBJECT
public:
    StartSheet(BuildDesk* build, LogDesk* log, QWidget* parent = nullptr);
    void refresh();

signals:
    void openWanted(); // ask for a file
    void demoWanted();
    void logWanted(); // ask for another log
    void characterWanted(const QString& path);

protected:
    void showEvent(QShowEvent*) override;

private:
    QWidget* buildOpening();
    QWidget* buildBefore();
    QWidget* buildTeam();
    void refreshBefore();
    void refreshTeam();
    void chooseFolder();

    BuildDesk* build_;
    LogDesk* log_;
    QWidget* before_ = nullptr;
    FlowLayout* cards_ = nullptr;
    QLabel *logPlace_ = nullptr, *logWords_ = nullptr, *watched_ = nullptr;
    QPushButton *watch_ = nullptr, *unwatch_ = nullptr;
};

} // namespace hobble
