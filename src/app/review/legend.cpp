#include "app/review/legend.h"

#include "app/theme.h"

#include <QPainter>

namespace hobble {

Legend::Legend(QWidget* parent) : QWidget(parent) {
    setFixedHeight(48);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void Legend::show(Colouring colouring, const QString& joint) {
    colouring_ = colouring;
    joint_ = joint;
    setAccessibleName(colouring == Colouring::Strain   ? tr("Legend: squash to stretch, 0.2 to 3.0")
                      : colouring == Colouring::Weight ? tr("Legend: weight of %1, 0 to 100 %").arg(joint)
                      : colouring == Colouring::Influences
                          ? tr("Legend: joints that hold a vertex, 1 to 8; an engine keeps four")
                          : tr("The character's own colours"));
    update();
}

void Legend::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const Theme& t = Theme::current();
    p.fillRect(rect(), t.viewport);
    p.setPen(t.viewportInk);
    p.setFont(typeface(0.92));
    if (colouring_ == Colouring::Own) {
        p.drawText(rect(), Qt::AlignCenter, tr("the character's own colours"));
        return;
    }
    const bool strain = colouring_ == Colouring::Strain;
    const bool influences = colouring_ == Colouring::Influences;
    const auto& stops = strain ? strainStops() : influences ? influenceStops() : weightStops();
    const double bar = std::min(width() - 180, 330);
    const QRectF box((width() - bar) / 2, 10, bar, 10);
    QLinearGradient gradient(box.topLeft(),
                             box.topRight()); // stops stand evenly, as the limits are what matters
    for (std::size_t i = 0; i < stops.size(); ++i)
        gradient.setColorAt(double(i) / double(stops.size() - 1), stops[i].colour);
    p.fillRect(box, gradient);
    const QString lower = strain ? tr("squash") : influences ? tr("joints") : joint_;
    const QString upper = strain ? tr("stretch") : influences ? tr("influences") : tr("weight");
    p.drawText(QRectF(0, 4, box.left() - 10, 22), Qt::AlignRight | Qt::AlignVCenter,
               p.fontMetrics().elidedText(lower, Qt::ElideLeft, int(box.left() - 14)));
    p.drawText(QRectF(box.right() + 10, 4, 120, 22), Qt::AlignLeft | Qt::AlignVCenter, upper);
    p.setFont(typeface(0.82));
    for (std::size_t i = 0; i < stops.size(); ++i) {
        const double x = box.left() + box.width() * double(i) / double(stops.size() - 1);
        p.drawLine(QPointF(x, box.bottom()), QPointF(x, box.bottom() + 4));
        const QString text = strain || influences ? QString::number(stops[i].value)
                                                  : QStringLiteral("%1 %").arg(100 * stops[i].value);
        p.drawText(QRectF(x - 24, box.bottom() + 5, 48, 16), Qt::AlignCenter, text);
    }
}

} // namespace hobble
