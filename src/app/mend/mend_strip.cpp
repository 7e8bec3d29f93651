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
        words = tr("%1: trouble %L2 before")
                    .arg(QString::fromStdString(wordsFor(*m)))
                    .arg(before_.worst, 0, 'f', 2);
        if (!now_.at.empty())
            words += tr(", %L1 now").arg(now_.worst, 0, 'f', 2);
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
    auto shapes = ramps();
    if (dragged_ >= 0 && static_cast<std::size_t>(dragged_ / 2) < shapes.size())
        shapes[static_cast<std::size_t>(dragged_ / 2)] = drag_;
    const auto xOf = [&](double at) { return b.left() + b.width() * at / std::max(m->limit(), 1e-9); };
    const double low = b.bottom() - 3, high = b.bottom() - 0.45 * b.height();
    for (const Ramp& r : shapes) {
        // under the ramp the shape is there: a tint of its own, apart from both curves
        QColor under = t.accent;
        under.setAlphaF(0.28f);
        p.setPen(Qt::NoPen);
        p.setBrush(under);
        p.drawPolygon(
            QPolygonF({{xOf(r.from), low}, {xOf(r.whole), high}, {b.right(), high}, {b.right(), low}}));
        p.setPen(QPen(t.accent, 2));
        p.setBrush(Qt::NoBrush);
        p.drawLine(QPointF(xOf(r.from), low), QPointF(xOf(r.whole), high));
        p.setPen(QPen(t.viewportInk, 1.4));
        p.setBrush(t.viewport);
        p.drawRect(QRectF(xOf(r.from) - 3.5, low - 3.5, 7, 7));
        p.setBrush(t.viewportInk);
        p.drawRect(QRectF(xOf(r.whole) - 3.5, high - 3.5, 7, 7));
    }
    const double here = b.left() + b.width() * mend_->poseAt() / std::max(m->limit(), 1e-9);
    p.setPen(QPen(t.night ? t.accent : t.accent.darker(110), 3, Qt::SolidLine, Qt::FlatCap));
    p.drawLine(QPointF(here, b.top() - 4), QPointF(here, b.bottom() + 3));
}

QPoint MendStrip::pointOf(double at) const {
    const Motion* m = mend_->motionShown();
    const QRectF b = box();
    return QPointF(b.left() + b.width() * at / std::max(m ? m->limit() : 1, 1e-9), b.center().y()).toPoint();
}

double MendStrip::atX(double x) const {
    const Motion* m = mend_->motionShown();
    return m ? std::round(std::clamp((x - box().left()) / box().width(), 0.0, 1.0) * m->limit()) : 0;
}

void MendStrip::scrub(double x) {
    if (mend_->motionShown())
        mend_->setPose(mend_->motion(), atX(x));
}

// Of the trial's steps those that shape the skin for a turn of this motion; steps for one angle are one
// shape.
std::vector<MendStrip::Ramp> MendStrip::ramps() const {
    std::vector<Ramp> out;
    const Motion* m = mend_->motionShown();
    const Subject* s = mend_->build();
    if (!m || !s || m->keys)
        return out;
    const Skeleton& sk = s->character->skeleton;
    const auto& steps = mend_->trial().steps;
    for (std::size_t i = 0; i < steps.size(); ++i) {
        const Step& step = steps[i];
        if (step.kind != StepKind::Correct || !step.on)
            continue;
        for (const JointTurn& turn : m->turns) {
            const auto j = static_cast<std::size_t>(turn.joint);
            const double along = (rotationOf(sk.neutralWorld[j]) * turn.axis).dot(step.axis);
            if (sk.name[j] != step.joint || std::abs(along) < 0.9 || turn.share == 0)
                continue;
            const double unit = (along > 0 ? 1 : -1) / turn.share;
            const double from = unit * step.from, whole = unit * step.degrees;
            const auto same =
                std::find_if(out.begin(), out.end(), [&](const Ramp& r) { return r.whole == whole; });
            if (whole > 0 && same == out.end())
                out.push_back({std::max(from, 0.0), whole, {i}});
            else if (whole > 0)
                same->steps.push_back(i);
        }
    }
    return out;
}

std::vector<std::pair<QPoint, QPoint>> MendStrip::handles() const {
    std::vector<std::pair<QPoint, QPoint>> out;
    const QRectF b = box();
    for (const Ramp& r : ramps())
        out.emplace_back(QPoint(pointOf(r.from).x(), static_cast<int>(b.bottom() - 3)),
                         QPoint(pointOf(r.whole).x(), static_cast<int>(b.bottom() - 0.45 * b.height())));
    return out;
}

void MendStrip::mousePressEvent(QMouseEvent* e) {
    if (e->button() != Qt::LeftButton)
        return;
    const auto all = handles();
    for (std::size_t i = 0; i < all.size(); ++i)
        for (int end : {1, 0})
            if (((end ? all[i].second : all[i].first) - e->position().toPoint()).manhattanLength() <= 9) {
                dragged_ = static_cast<int>(2 * i) + end;
                drag_ = ramps()[i];
                return;
            }
    scrub(e->position().x());
}

void MendStrip::mouseMoveEvent(QMouseEvent* e) {
    if (!(e->buttons() & Qt::LeftButton))
        return;
    if (dragged_ < 0)
        return scrub(e->position().x());
    const double at = atX(e->position().x());
    if (dragged_ % 2)
        drag_.whole = std::max(at, drag_.from + 1);
    else
        drag_.from = std::min(at, drag_.whole - 1);
    update();
}

void MendStrip::mouseReleaseEvent(QMouseEvent*) {
    if (dragged_ < 0)
        return;
    const Motion* m = mend_->motionShown();
    const auto all = ramps();
    const auto i = static_cast<std::size_t>(dragged_ / 2);
    dragged_ = -1;
    if (!m || i >= all.size())
        return;
    Trial trial = mend_->trial();
    for (std::size_t k : all[i].steps) {
        Step& step = trial.steps[k];
        step.degrees *= drag_.whole / all[i].whole;
        step.from = step.degrees * drag_.from / drag_.whole;
    }
    mend_->change(trial, tr("fade a shape in elsewhere"));
    update();
}

} // namespace hobble
