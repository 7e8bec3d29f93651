#include "app/widgets/trouble_paint.h"

#include "app/theme.h"

#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace hobble {

double riseOfTrouble(double trouble) {
    constexpr double level = 0.36;
    return trouble <= 1 ? level * trouble : 1 - (1 - level) / std::sqrt(trouble);
}

void paintBeforeAndAfter(QPainter& p, const QRectF& box, double limit, const TroubleCurve& before,
                         const TroubleCurve& after, const QColor& ink, const QColor& ground) {
    const Theme& t = Theme::current();
    const auto x = [&](double at) { return box.left() + box.width() * at / std::max(limit, 1e-9); };
    const auto y = [&](double trouble) { return box.bottom() - box.height() * riseOfTrouble(trouble); };
    const int steps = std::max(2, int(box.width() / 2));
    const auto line = [&](const TroubleCurve& c) {
        QPainterPath path;
        if (c.at.empty())
            return path;
        const double end = std::min(c.at.back(), limit);
        path.moveTo(x(0), y(troubleAt(c, 0)));
        for (int i = 1; i <= steps; ++i)
            path.lineTo(x(end * i / steps), y(troubleAt(c, end * i / steps)));
        return path;
    };
    const auto filled = [&](QPainterPath path, double end) {
        path.lineTo(x(end), box.bottom());
        path.lineTo(x(0), box.bottom());
        path.closeSubpath();
        return path;
    };
    p.setPen(Qt::NoPen);
    if (!after.at.empty()) {
        const QPainterPath whole = filled(line(after), std::min(after.at.back(), limit));
        p.setBrush(ground);
        p.drawPath(whole);
        p.save();
        p.setClipRect(QRectF(box.left(), box.top() - 2, box.width(), y(1) - box.top() + 2),
                      Qt::IntersectClip);
        p.setBrush(t.stripMild);
        p.drawPath(whole);
        p.restore();
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(ink, 1.5));
        p.drawPath(line(after));
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(ink, 1.3, Qt::DashLine));
    p.drawPath(line(before));
    p.setPen(QPen(ink, 1, Qt::DotLine));
    p.drawLine(QPointF(box.left(), y(1)), QPointF(box.right(), y(1)));
}

} // namespace hobble
