#include "app/intake/score_line.h"

#include "app/theme.h"

#include <QPainter>

namespace hobble {

namespace {
constexpr int kMost = 8; // builds shown, the newest
}

ScoreLine::ScoreLine(BuildDesk* build, LogDesk* log, QWidget* parent)
    : QWidget(parent), build_(build), log_(log) {
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    connect(build_, &BuildDesk::intakeChanged, this, [this] {
        setAccessibleName(words());
        updateGeometry();
        update();
    });
}

QSize ScoreLine::sizeHint() const { return {px(200), px(66)}; }

QString ScoreLine::words() const {
    QStringList out;
    for (const BuildState& b : build_->builds())
        if (b.score >= 0)
            out << tr("build %1 scores %2").arg(b.build.number).arg(b.score);
    return out.join(QStringLiteral(", "));
}

void ScoreLine::paintEvent(QPaintEvent*) {
    QVector<BuildState> scored;
    for (const BuildState& b : build_->builds())
        if (b.score >= 0)
            scored << b;
    scored = scored.mid(std::max<qsizetype>(0, scored.size() - kMost));
    if (scored.size() < 2)
        return;
    const Theme& t = Theme::current();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setFont(typeface(0.85));
    const double left = px(18), right = width() - px(18), top = px(20), bottom = height() - px(22);
    const auto at = [&](qsizetype i) {
        return QPointF(left + (right - left) * double(i) / double(scored.size() - 1),
                       bottom - (bottom - top) * scored[i].score / 100.0);
    };
    p.setPen(QPen(t.hairline, 1));
    p.drawLine(QPointF(0, bottom + px(3)), QPointF(width(), bottom + px(3)));
    QPolygonF line;
    for (qsizetype i = 0; i < scored.size(); ++i)
        line << at(i);
    p.setPen(QPen(t.accent, 1.6));
    p.drawPolyline(line);
    for (qsizetype i = 0; i < scored.size(); ++i) {
        const bool open = scored[i].build.id == log_->build().id;
        p.setPen(QPen(t.accent, 1.6));
        p.setBrush(open ? t.accent : t.paper);
        p.drawEllipse(at(i), 4, 4);
        p.setPen(t.ink);
        p.drawText(QRectF(at(i).x() - 40, at(i).y() - px(20), 80, px(16)), Qt::AlignCenter,
                   QString::number(scored[i].score));
        p.setPen(t.muted);
        p.drawText(QRectF(at(i).x() - 40, bottom + px(4), 80, px(17)), Qt::AlignCenter,
                   tr("build %1").arg(scored[i].build.number));
    }
}

} // namespace hobble
