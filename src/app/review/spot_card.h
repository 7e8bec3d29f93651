#pragma once
// "What moves this?": a card over the picture, for the spot that was pressed: its influences, each of which
// shows its weights when chosen, and the motions in which this spot is worst.
#include "app/session/run_desk.h"

#include <QFrame>

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace hobble {

class SpotCard : public QFrame {
    Q_OBJECT
public:
    explicit SpotCard(BuildDesk* build, PlanDesk* plan, RunDesk* run, QWidget* parent = nullptr);
    void show(std::uint32_t fileVertex);

signals:
    void jointChosen(int joint);

private:
    void clear();
    QPushButton* button(const QString& text, const QString& name);
    void showWorst(std::uint32_t fileVertex, const std::vector<SpotMotion>& motions);
    BuildDesk* build_;
    PlanDesk* plan_;
    RunDesk* run_;
    QLabel *title_, *worst_ = nullptr;
    QVBoxLayout* rows_;
    std::uint32_t asked_ = 0; // the spot the card is about
};

} // namespace hobble
