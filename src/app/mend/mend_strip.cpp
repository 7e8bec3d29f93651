#include "app/mend/mend_strip.h"

#include "app/theme.h"
#include "app/widgets/trouble_paint.h"

#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace hobble {

MendStrip::MendStrip(MendDesk* mend, QWidget* parent) : QWidget(parent), mend_(mend) {
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Maximum);
    setCursor(Qt::SizeHorCursor);
    connect(mend, &MendDesk::poseChanged, this, &MendStrip::refresh);
    connect(mend, &MendDesk::measuredChanged, this, &MendStrip::refresh);
    refresh();
}

QSize MendStrip::sizeHint() const { return {400, px(92)}; }

QSize MendStrip::minimumSizeHint() const { return {100, px(29) + 36}; }

QRectF MendStrip::box() const { return QRectF(rect()).adjusted(px(16), px(8), -px(16), -px(21)); }

void MendStrip::refresh() {
    before_ = mend_->curve(0);
    now_ = mend_->curve(1);
    const Motion* m = mend_->motionShown();
    QString words;
    if (m) {
        words = tr("%1: trouble %2 before")
                    .arg(QString::fromStdString(wordsFor(*m)))
                    .arg(before_.worst, 0, 'f', 2);
        if (!now_.at.empty())
            words += tr(", %1 now").arg(now_.worst, 0, 'f', 2);
        words += tr("; 1 is the limit. At %1").arg(QString::fromStdString(wordsFor(*m, mend_->poseAt())));
    }
    setAccessibleName(words);
    update();
}

void MendStrip::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = Theme::current();
    p.fillRect(rect(), t.viewport);
    const Motion* m = mend_->motionShown();
    if (!m)
        return;
    const QRectF b = box();
    QColor ground = t.viewportInk;
    ground.setAlphaF(0.55f);
    paintBeforeAndAfter(p, b, m->limit(), before_, now_, t.viewportInk, ground);
    p.setFont(typeface(0.9));
    p.setPen(t.viewportInk);
    const QRectF words(b.left(), b.bottom() + 2, b.width(), px(18));
    p.drawText(words, Qt::AlignLeft | Qt::AlignVCenter, QString::fromStdString(wordsFor(*m, 0)));
    p.drawText(words, Qt::AlignRight | Qt::AlignVCenter, QString::fromStdString(wordsFor(*m, m->limit())));
    const QString what =
        mend_->measuring() ? tr("measuring…") : tr("before dashed, now filled above the limit");
    if (p.fontMetrics().horizontalAdvance(what) < words.width() * 0.7) // large text: the ends matter more
        p.drawText(words, Qt::AlignCenter, what);
    const double here = b.left() + b.width() * mend_->poseAt() / std::max(m->limit(), 1e-9);
    p.setPen(QPen(t.night ? t.accent : t.accent.darker(110), 3, Qt::SolidLine, Qt::FlatCap));
    p.drawLine(QPointF(here, b.top() - 4), QPointF(here, b.bottom() + 3));
}

QPoint MendStrip::pointOf(double at) const {
    const Motion* m = mend_->motionShown();
    const QRectF b = box();
    return QPointF(b.left() + b.width() * at / std::max(m ? m->limit() : 1, 1e-9), b.center().y()).toPoint();
}

void MendStrip::scrub(double x) {
    if (const Motion* m = mend_->motionShown())
        mend_->setPose(mend_->motion(),
                       std::round(std::clamp((x - box().left()) / box().width(), 0.0, 1.0) * m->limit()));
}

void MendStrip::mousePressEvent(QMouseEvent* e) {
    if (e->button() == Qt::LeftButton)
        scrub(e->position().x());
}
void MendStrip::mouseMoveEvent(QMouseEvent* e) {
    if (e->buttons() & Qt::LeftButton)
        scrub(e->position().x());
}

} // namespace hobble
