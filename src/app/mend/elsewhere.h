#pragma once
// What the trial changed in other motions: what passes a limit first, then what changed most; each goes
// there.
#include "app/session/mend_desk.h"

#include <QWidget>

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace hobble {

class Elsewhere : public QWidget {
    Q_OBJECT
public:
    Elsewhere(MendDesk* mend, RunDesk* run, QWidget* parent = nullptr);
    void refresh();

private:
    MendDesk* mend_;
    RunDesk* run_;
    QLabel* state_;
    QVBoxLayout* rows_;
    QPushButton* more_;
    bool all_ = false; // not only the first few
};

} // namespace hobble
