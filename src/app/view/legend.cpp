#include "app/view/legend.h"

#include "app/theme.h"

#include <QPainter>

namespace hobble {

Legend::Legend(QWidget* parent) : QWidget(parent) {
    setTextSize(this, -1, 50);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

QSize Legend::sizeHint() const { return {400, px(50)}; }

void Legend::show(Colouring colouring, const ColourScale& scale, bool waiting) {
    colouring_ = colouring;
    scale_ = scale;
    waiting_ = waiting;
    QString words = tr("Legend: %1").arg(nameOf(colouring));
    if (waiting)
        words += tr(", being measured");
    for (const ColourStop& stop : scale.stops)
        words += stop.severity ? tr(", severity %1 at %2").arg(stop.severity).arg(scale.words(stop.value))
                               : tr(", %1").arg(scale.words(stop.value));
    setAccessibleName(words);
    update();
}

void Legend::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = Theme::current();
    p.fillRect(rect(), t.viewport);
    p.setPen(t.viewportInk);
    p.setFont(typeface(0.92));
    const auto& stops = scale_.stops;
    if (stops.size() < 2) {
        if (colouring_ == Colouring::Own)
            p.drawText(rect(), Qt::AlignCenter, tr("the character's own colours"));
        return;
    }
    const double side = std::min<double>(px(86), width() * 0.21);
    const double bar = std::min(width() - 2 * side, double(px(360)));
    const QRectF box((width() - bar) / 2, px(9), bar, px(10));
    const auto at = [&](std::size_t i) { // stops stand evenly, as the limits are what matters
        return box.left() + bar * double(i) / double(stops.size() - 1);
    };
    QLinearGradient gradient(box.topLeft(), box.topRight());
    for (std::size_t i = 0; i < stops.size(); ++i)
        gradient.setColorAt(double(i) / double(stops.size() - 1), stops[i].colour);
    p.fillRect(box, gradient);
    const auto end = [&](const QString& words, const QRectF& where, Qt::Alignment align) {
        p.drawText(where, align | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(words, Qt::ElideRight, int(where.width())));
    };
    end(scale_.below, QRectF(4, box.top() - 6, box.left() - 12, box.height() + 12), Qt::AlignRight);
    end(waiting_ ? tr("measuring…") : scale_.above,
        QRectF(box.right() + 8, box.top() - 6, width() - box.right() - 10, box.height() + 12), Qt::AlignLeft);
    p.setFont(typeface(0.8));
    const double slot = bar / double(stops.size() - 1);
    double said = 0; // to the right end of the last word
    for (std::size_t i = 0; i < stops.size(); ++i) {
        const double x = at(i);
        p.setPen(QPen(t.viewportInk, stops[i].severity ? 1.6 : 1));
        p.drawLine(QPointF(x, stops[i].severity ? box.top() - 3 : box.bottom()),
                   QPointF(x, box.bottom() + 4));
        const QString text = scale_.words(stops[i].value);
        const double half = p.fontMetrics().horizontalAdvance(text) / 2.0;
        if (x - half < said + 4) // it would run into the one before
            continue;
        said = x + half;
        p.drawText(QRectF(x - slot, box.bottom() + 5, 2 * slot, px(18)), Qt::AlignCenter, text);
    }
}

} // namespace hobble
