#pragma once
// "What moves this?": a card over the picture, for the spot that was pressed: its influences, each of which
// shows its weights when chosen, and the motions in which this spot is worst.
#include "app/session/session.h"

#include <QFrame>

class QLabel;
class QVBoxLayout;

namespace hobble {

class SpotCard : public QFrame {
    Q_OBJECT
public:
    explicit SpotCard(Session* session, QWidget* parent = nullptr);
    void show(std::uint32_t fileVertex);

signals:
    void jointChosen(int joint);

private:
    void clear();
    Session* session_;
    QLabel* title_;
    QVBoxLayout* rows_;
};

} // namespace hobble
