#pragma once
// The motion looked at, under the character: its trouble before in outline, now filled where the limit is
// passed. Pressed or dragged along it poses the character.
#include "app/session/mend_desk.h"

#include <QWidget>

namespace hobble {

class MendStrip : public QWidget {
    Q_OBJECT
public:
    explicit MendStrip(MendDesk* mend, QWidget* parent = nullptr);
    QPoint pointOf(double at) const; // where an angle stands
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override; // where the window is low it gives way

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;

private:
    QRectF box() const;
    void scrub(double x);
    void refresh();

    MendDesk* mend_;
    TroubleCurve before_, now_;
};

} // namespace hobble
