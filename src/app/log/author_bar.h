#pragma once
// Asks, in one line, whose name the log is signed with, when the first change is signed with a name nobody
// has given.
#include "app/session/log_desk.h"

#include <QWidget>

class QLabel;
class QLineEdit;

namespace hobble {

class AuthorBar : public QWidget {
    Q_OBJECT
public:
    explicit AuthorBar(LogDesk* log, QWidget* parent = nullptr);

private:
    void ask();
    void take();
    LogDesk* log_;
    QLabel* words_;
    QLineEdit* name_;
};

} // namespace hobble
