#pragma once
// Out of the log: a packet for each rigger, with a message for them in the outbox; pages for a meeting; all
// of it as JSON or a table. What it takes is done in the background and can be stopped.
#include "app/session/run_desk.h"

#include <QDialog>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;

namespace hobble {

class SendDialog : public QDialog {
    Q_OBJECT
public:
    /// `ids`: the defects it is about.
    SendDialog(BuildDesk* build, RunDesk* run, LogDesk* log, const QVector<qint64>& ids,
               QWidget* parent = nullptr);

private:
    void go();
    void refresh();
    BuildDesk* build_;
    RunDesk* run_;
    LogDesk* log_;
    QVector<qint64> ids_;
    QComboBox* what_;
    QLineEdit *folder_, *outbox_;
    QCheckBox *zip_, *message_;
    QLabel* about_;
};

} // namespace hobble
