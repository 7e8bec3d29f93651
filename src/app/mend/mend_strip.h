#pragma once
// The motion looked at, under the character: its trouble before in outline, now filled where the limit is
// passed. Pressed or dragged along it poses the character. Shapes that fade in over this motion stand on it
// as ramps, with two handles: where they begin, and where they are whole.
#include "app/session/mend_desk.h"

#include <QWidget>

#include <vector>

namespace hobble {

class MendStrip : public QWidget {
    Q_OBJECT
public:
    explicit MendStrip(MendDesk* mend, QWidget* parent = nullptr);
    QPoint pointOf(double at) const; // where an angle stands
    /// Where the handles of a shape stand, by its number along the range: where it begins, where it is whole.
    std::vector<std::pair<QPoint, QPoint>> handles() const;
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override; // where the window is low it gives way

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;

private:
    struct Ramp { // in the unit of the motion
        double from = 0, whole = 0;
        std::vector<std::size_t> steps; // that make the shape
    };
    std::vector<Ramp> ramps() const;
    double atX(double x) const;
    QRectF box() const;
    void scrub(double x);
    void refresh();

    MendDesk* mend_;
    TroubleCurve before_, now_;
    int dragged_ = -1; // twice the ramp's number, one more for where it is whole
    Ramp drag_;
};

} // namespace hobble
