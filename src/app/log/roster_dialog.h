#pragma once
// Who defects can be given to.
#include "app/session/log_desk.h"

#include <QDialog>

class QLineEdit;
class QTableWidget;

namespace hobble {

class RosterDialog : public QDialog {
    Q_OBJECT
public:
    explicit RosterDialog(LogDesk* log, QWidget* parent = nullptr);

private:
    void refresh();
    LogDesk* log_;
    QTableWidget* list_;
    QLineEdit *own_ = nullptr, *name_;
};

} // namespace hobble
