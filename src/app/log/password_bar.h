#pragma once
// Asks, in one line, for the password of a log's server that libpq's own files and the keyring do not hold.
#include "app/session/log_desk.h"

#include <QWidget>

class QCheckBox;
class QLabel;
class QLineEdit;

namespace hobble {

class PasswordBar : public QWidget {
    Q_OBJECT
public:
    explicit PasswordBar(LogDesk* log, QWidget* parent = nullptr);

private:
    void ask(bool again);
    void give();
    LogDesk* log_;
    QString asked_; // the place it is about
    QLabel* words_;
    QLineEdit* password_;
    QCheckBox* keep_;
};

} // namespace hobble
