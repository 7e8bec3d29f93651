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

void paintChange(QPainter& p, const QRectF& box, double limit, const TroubleCurve& before,
                 const TroubleCurve& now, const QColor& ground) {
    const Theme& t = Theme::current();
    const auto x = [&](double at) { return box.left() + box.width() * at / std::max(limit, 1e-9); };
    const auto y = [&](double trouble) { return box.bottom() - box.height() * riseOfTrouble(trouble); };
    const double end =
        std::min({before.at.empty() ? 0 : before.at.back(), now.at.empty() ? 0 : now.at.back(), limit});
    const int steps = std::max(2, int(box.width() / 2));
    // what both have, and what one has over it
    const auto shape = [&](const auto& of) {
        QPainterPath path(QPointF(x(0), box.bottom()));
        for (int i = 0; i <= steps; ++i)
            path.lineTo(x(end * i / steps), y(of(end * i / steps)));
        path.lineTo(x(end), box.bottom());
        path.closeSubpath();
        return path;
    };
    if (end > 0) {
        const QPainterPath under = shape([&](double a) { return troubleAt(before, a); }),
                           over = shape([&](double a) { return troubleAt(now, a); }),
                           both = shape(
                               [&](double a) { return std::min(troubleAt(before, a), troubleAt(now, a)); });
        p.setPen(Qt::NoPen);
        p.setBrush(t.better);
        p.drawPath(under);
        p.setBrush(t.worse);
        p.drawPath(over);
        p.setBrush(ground); // so that what lies under both is as pale on every ground
        p.drawPath(both);
        p.setBrush(t.stripBody);
        p.drawPath(both);
        QPainterPath line(QPointF(x(0), y(troubleAt(now, 0))));
        for (int i = 1; i <= steps; ++i)
            line.lineTo(x(end * i / steps), y(troubleAt(now, end * i / steps)));
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(t.ink, 1.3));
        p.drawPath(line);
    }
    p.setPen(QPen(t.limitLine, 1, Qt::DotLine));
    p.drawLine(QPointF(box.left(), y(1)), QPointF(box.right(), y(1)));
    p.setPen(QPen(t.hairline, 1));
    p.drawLine(box.bottomLeft(), box.bottomRight());
    p.setPen(QPen(t.muted, 1));
    p.drawLine(box.topLeft(), box.bottomLeft());
}

} // namespace hobble
