#pragma once
// The trial's steps as sentences: each with a tick, how much of the trouble it takes, its numbers changed in
// place, and verbs to move it, to do it on the other side, to take it out. Dragged to another place.
#include "app/session/mend_desk.h"

#include <QWidget>

#include <array>

class QVBoxLayout;

namespace hobble {

class StepRow;

class StepList : public QWidget {
    Q_OBJECT
public:
    explicit StepList(MendDesk* mend, QWidget* parent = nullptr);
    int chosen() const { return chosen_; } // −1: none
    void choose(int step);
    int rows() const { return static_cast<int>(rows_.size()); }
    StepRow* row(int step) const { return rows_[static_cast<std::size_t>(step)]; }
    int rowAt(const QPoint& global) const; // that a row let go there would come to

signals:
    void chosenChanged();

private:
    void rebuild();
    void refresh();

    MendDesk* mend_;
    QVBoxLayout* column_;
    std::vector<StepRow*> rows_;
    std::vector<std::array<int, 5>> kinds_; // of the rows
    int chosen_ = -1;
};

} // namespace hobble
