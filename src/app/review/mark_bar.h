#pragma once
// Marking skin by hand: brush or lasso, the brush's size, and what to do with what is marked.
#include "app/view/marking_tool.h"

#include <QWidget>

class QLabel;
class QPushButton;
class QSlider;

namespace hobble {

class MarkBar : public QWidget {
    Q_OBJECT
public:
    MarkBar(MarkingTool* marking, QWidget* parent = nullptr);

signals:
    void logWanted();
    void mendWanted();

private:
    void refresh();
    MarkingTool* marking_;
    QPushButton *brush_, *lasso_, *log_, *clear_, *mend_;
    QSlider* size_;
    QLabel* count_;
};

} // namespace hobble
