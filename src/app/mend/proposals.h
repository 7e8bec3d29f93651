#pragma once
// What would help: cures that were tried, as cards with both curves, what each does, what it costs, and how
// much it changes. Shown while held, taken with a press. They come in while one looks.
#include "app/session/mend_desk.h"

#include <QWidget>

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace hobble {

class Proposals : public QWidget {
    Q_OBJECT
public:
    explicit Proposals(MendDesk* mend, QWidget* parent = nullptr);

private:
    void refresh();
    QWidget* card(int index);

    MendDesk* mend_;
    QLabel *title_, *state_;
    QPushButton *search_, *more_;
    QVBoxLayout* cards_;
    bool all_ = false; // those that help less, too
};

} // namespace hobble
