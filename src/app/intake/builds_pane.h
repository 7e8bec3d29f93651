#pragma once
// The builds of the character: when each came, how fit it was, what was noted, where its file is; and the
// folder that is watched for new ones.
#include "app/session/build_desk.h"

#include <QWidget>

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace hobble {

class BuildsPane : public QWidget {
    Q_OBJECT
public:
    explicit BuildsPane(BuildDesk* build, LogDesk* log, QWidget* parent = nullptr);
    void askFolder(); // asks for a folder to watch

signals:
    void openWanted(const QString& path);
    void compareWanted(qint64 build); // with the open one

private:
    void refresh();
    QWidget* card(const BuildState& state);
    BuildDesk* build_;
    LogDesk* log_;
    QVBoxLayout* list_ = nullptr;
    QLabel* watched_ = nullptr;
    QPushButton* watch_ = nullptr;
};

} // namespace hobble
