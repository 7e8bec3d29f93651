#pragma once
// A clip as a motion strip: its silhouette is how much of a joint's range each frame uses, filled where it
// goes past the planned range. Pressing and dragging scrubs it; the chosen span is marked below.
#include "app/session/pose_desk.h"

#include <QWidget>

namespace hobble {

class ClipStrip : public QWidget {
    Q_OBJECT
public:
    explicit ClipStrip(PoseDesk* desk, QWidget* parent = nullptr);
    std::size_t place() const { return place_; } // among the frames looked at
    void setPlace(std::size_t place);
    void setSpan(std::size_t first, std::size_t last);
    QSize sizeHint() const override;

signals:
    void placeChanged();

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

private:
    double xOf(std::size_t place) const;
    PoseDesk* desk_;
    std::size_t place_ = 0, first_ = 0, last_ = 0;
};

} // namespace hobble
