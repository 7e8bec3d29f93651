#pragma once
// Says that the log does not answer, since when what is shown is not new, and offers what was kept meanwhile.
#include "app/session/session.h"

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace hobble {

class KeptBar : public QWidget {
    Q_OBJECT
public:
    explicit KeptBar(Session* session, QWidget* parent = nullptr);

private:
    void refresh();
    Session* session_;
    QLabel* words_;
    QPushButton *write_, *drop_, *look_;
    QVBoxLayout* list_;
    QWidget* edits_;
};

} // namespace hobble
