#pragma once
// Says that the log does not answer, since when what is shown is not new, and offers what was kept meanwhile.
#include "app/session/log_desk.h"

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace hobble {

class KeptBar : public QWidget {
    Q_OBJECT
public:
    explicit KeptBar(LogDesk* log, QWidget* parent = nullptr);

private:
    void refresh();
    LogDesk* log_;
    QLabel* words_;
    QPushButton *write_, *drop_, *look_;
    QVBoxLayout* list_;
    QWidget* edits_;
};

} // namespace hobble
