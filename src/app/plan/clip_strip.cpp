#include "app/plan/clip_strip.h"

#include "app/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <cmath>

namespace hobble {

ClipStrip::ClipStrip(PoseDesk* desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Frames of the clip"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

QSize ClipStrip::sizeHint() const { return QSize(px(240), px(58)); }

double ClipStrip::xOf(std::size_t place) const {
    const ClipOnDesk* clip = desk_->clip();
    const std::size_t n = clip ? clip->poses.size() : 0;
    return 6 + (width() - 12) * (n > 1 ? static_cast<double>(place) / static_cast<double>(n - 1) : 0.0);
}

void ClipStrip::setPlace(std::size_t place) {
    const ClipOnDesk* clip = desk_->clip();
    if (!clip || clip->poses.empty())
        return;
    place_ = std::min(place, clip->poses.size() - 1);
    update();
    emit placeChanged();
}

void ClipStrip::setSpan(std::size_t first, std::size_t last) {
    first_ = first;
    last_ = last;
    update();
}

void ClipStrip::paintEvent(QPaintEvent*) {
    const Theme& t = Theme::current();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const ClipOnDesk* clip = desk_->clip();
    if (!clip || clip->stress.empty())
        return;
    const double base = height() - 10, limit = base - 0.6 * (base - 4); // a joint at its limit
    const auto yOf = [&](double share) { return base - 0.6 * (base - 4) * std::min(share, 1.6); };
    QPainterPath body;
    body.moveTo(xOf(0), base);
    for (std::size_t i = 0; i < clip->stress.size(); ++i)
        body.lineTo(xOf(i), yOf(clip->stress[i].share));
    body.lineTo(xOf(clip->stress.size() - 1), base);
    p.fillPath(body, t.stripBody);
    p.save(); // what goes past a planned range
    for (std::size_t i = 0; i < clip->stress.size(); ++i)
        if (clip->stress[i].beyond > 5) {
            p.setPen(
                QPen(t.stripGrave, std::max(1.0, (width() - 12) / static_cast<double>(clip->stress.size()))));
            p.drawLine(QPointF(xOf(i), base), QPointF(xOf(i), std::min(yOf(clip->stress[i].share), limit)));
        }
    p.restore();
    p.setPen(QPen(t.limitLine, 1, Qt::DashLine));
    p.drawLine(QPointF(6, limit), QPointF(width() - 6, limit));
    p.setPen(QPen(t.accent, 3, Qt::SolidLine, Qt::FlatCap));
    p.drawLine(QPointF(xOf(first_), height() - 4),
               QPointF(std::max(xOf(last_), xOf(first_) + 2), height() - 4));
    p.setPen(QPen(t.ink, 1.6));
    p.drawLine(QPointF(xOf(place_), 2), QPointF(xOf(place_), base + 2));
    if (hasFocus()) {
        p.setPen(QPen(t.accent, 1));
        p.setBrush(Qt::NoBrush);
        p.drawRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5));
    }
}

void ClipStrip::mousePressEvent(QMouseEvent* e) {
    const ClipOnDesk* clip = desk_->clip();
    if (!clip || clip->poses.empty() || !(e->buttons() & Qt::LeftButton))
        return;
    const double share = std::clamp((e->position().x() - 6) / std::max(1.0, width() - 12.0), 0.0, 1.0);
    setPlace(static_cast<std::size_t>(std::lround(share * static_cast<double>(clip->poses.size() - 1))));
}

void ClipStrip::mouseMoveEvent(QMouseEvent* e) { mousePressEvent(e); }

void ClipStrip::keyPressEvent(QKeyEvent* e) {
    if (e->key() == Qt::Key_Left)
        setPlace(place_ > 0 ? place_ - 1 : 0);
    else if (e->key() == Qt::Key_Right)
        setPlace(place_ + 1);
    else
        QWidget::keyPressEvent(e);
}

} // namespace hobble
