#pragma once
// Marking skin by hand: brush or lasso, the brush's size, and what to do with what is marked.
#include "app/review/viewport.h"

#include <QWidget>

class QLabel;
class QPushButton;
class QSlider;

namespace hobble {

class MarkBar : public QWidget {
    Q_OBJECT
public:
    MarkBar(Viewport* viewport, QWidget* parent = nullptr);

signals:
    void logWanted();

private:
    void refresh();
    Viewport* viewport_;
    QPushButton *brush_, *lasso_, *log_, *clear_;
    QSlider* size_;
    QLabel* count_;
};

} // namespace hobble
