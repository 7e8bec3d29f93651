#pragma once
// What a hand can do on the skin, in words: strokes, with their radius and strength, and marking.
#include "app/mend/brush_tool.h"
#include "app/view/marking_tool.h"

#include <QWidget>

#include <map>

class QLabel;
class QPushButton;
class QSlider;

namespace hobble {

class BrushLine : public QWidget {
    Q_OBJECT
public:
    BrushLine(BrushTool* brush, MarkingTool* marking, MendDesk* mend, QWidget* parent = nullptr);
    // As if its word were pressed
    void press(BrushDoes does);
    void pressMark();
    void pressLasso();

    void restyle() { refresh(); } // after a change of theme

signals:
    void weightsWanted(); // strokes of a joint's share are drawn on its weights

private:
    void refresh();

    BrushTool* brush_;
    MarkingTool* marking_;
    MendDesk* mend_;
    std::map<BrushDoes, QPushButton*> brushes_;
    QPushButton *mark_ = nullptr, *lasso_ = nullptr, *clearMarks_ = nullptr, *larger_ = nullptr,
                *smaller_ = nullptr, *piece_ = nullptr, *more_ = nullptr, *along_ = nullptr,
                *bothSides_ = nullptr;
    QWidget* how_ = nullptr;
    QLabel *radius_ = nullptr, *strength_ = nullptr, *shapeWords_ = nullptr;
    QSlider *radiusSlider_ = nullptr, *strengthSlider_ = nullptr;
};

} // namespace hobble
