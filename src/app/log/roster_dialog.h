#pragma once
// Who defects can be given to.
#include "app/session/session.h"

#include <QDialog>

class QLineEdit;
class QTableWidget;

namespace hobble {

class RosterDialog : public QDialog {
    Q_OBJECT
public:
    explicit RosterDialog(Session* session, QWidget* parent = nullptr);

private:
    void refresh();
    Session* session_;
    QTableWidget* list_;
    QLineEdit* name_;
};

} // namespace hobble
