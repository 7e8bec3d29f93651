#include "app/compare/compare_strips.h"

#include "app/theme.h"
#include "app/widgets/trouble_paint.h"
#include "app/words.h"
#include "core/words/motion_words.h"
#include "core/words/say.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QScrollBar>
#include <QToolTip>

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

constexpr int kCompareRow = 34, kCompareName = 150, kCompareLeft = 20, kCompareRight = 18;
} // namespace

CompareStrips::CompareStrips(CompareDesk* compare, QWidget* parent)
    : QAbstractScrollArea(parent), compare_(compare) {
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Motions of both sides"));
    viewport()->setMouseTracking(true);
    connect(compare, &CompareDesk::comparisonChanged, this, &CompareStrips::rebuild);
    connect(compare, &CompareDesk::checksChanged, this, &CompareStrips::rebuild);
    connect(compare, &CompareDesk::poseChanged, this, [this] {
        const auto row = std::find_if(rows_.begin(), rows_.end(),
                                      [&](const Row& r) { return r.motion == compare_->motion(); });
        setAccessibleDescription(row == rows_.end() ? QString()
                                                    : sentenceAt(static_cast<int>(row - rows_.begin())));
        viewport()->update();
    });
    rebuild();
}

void CompareStrips::rebuild() {
    all_.clear();
    cameBack_.clear();
    const auto c = compare_->comparison();
    if (c) {
        if (const DefectChecks* checks = compare_->checks())
            for (const DefectCheck& check : checks->checks)
                if (check.cameBack)
                    cameBack_.insert(
                        c->sides[1].run->plan.find(presentId(check.defect.facts.motion.toStdString())));
        for (const MotionChange& m : c->differences.motions) {
            const Motion& motion = c->sides[1].run->plan.motions[static_cast<std::size_t>(m.motion[1])];
            Row row;
            row.motion = m.motion[1];
            row.name = QString::fromStdString(c->mirrored() ? motionName(motion.name) : wordsFor(motion));
            row.limit = motion.limit();
            row.unit = motion.span == Span::Degrees   ? QStringLiteral("°")
                       : motion.span == Span::Percent ? QStringLiteral(" %")
                                                      : QString();
            takeCurves(row);
            row.verdict = m.verdict;
            row.mixed = m.mixed;
            row.change = m.change;
            row.at = std::max(row.now.peak, 0.0);
            for (const MeasureChange& x : c->differences.measures) {
                if (x.motion[1] != m.motion[1] || x.verdict == Change::Same)
                    continue;
                if (x.verdict == m.verdict && x.change == m.change)
                    row.at = x.at;
                auto& way = x.verdict == Change::Worse ? row.worse : row.better;
                if (std::abs(x.change) > std::abs(way.change))
                    way = {x.kind, x.change, x.at};
            }
            all_.push_back(std::move(row));
        }
    }
    layOut();
}

void CompareStrips::takeCurves(Row& row) const {
    const auto c = compare_->comparison();
    for (const MotionChange& m : c->differences.motions) {
        if (m.motion[1] != row.motion)
            continue;
        const auto curve = [&](std::size_t s) {
            const ComparedSide& side = c->sides[s];
            return troubleCurve(side.subject->roles, side.run->motions[static_cast<std::size_t>(m.motion[s])],
                                c->sides[1].run->limits, row.only);
        };
        row.before = curve(0);
        row.now = curve(1);
    }
}

bool CompareStrips::shows(const Row& row, Order order) const {
    switch (order) {
    case Order::WorseFirst:
        return row.verdict == Change::Worse || row.mixed;
    case Order::BetterFirst:
        return row.verdict == Change::Better || row.mixed;
    case Order::CameBack:
        return cameBack_.contains(row.motion);
    case Order::Body:
        return true;
    }
    return true;
}

int CompareStrips::count(Order order) const {
    return static_cast<int>(
        std::count_if(all_.begin(), all_.end(), [&](const Row& r) { return shows(r, order); }));
}

void CompareStrips::setOrder(Order order) {
    order_ = order;
    layOut();
    verticalScrollBar()->setValue(0);
}

void CompareStrips::layOut() {
    rows_.clear();
    std::copy_if(all_.begin(), all_.end(), std::back_inserter(rows_),
                 [&](const Row& r) { return shows(r, order_); });
    if (order_ == Order::WorseFirst)
        std::stable_sort(rows_.begin(), rows_.end(),
                         [](const Row& a, const Row& b) { return a.change > b.change; });
    else if (order_ == Order::BetterFirst)
        std::stable_sort(rows_.begin(), rows_.end(),
                         [](const Row& a, const Row& b) { return a.change < b.change; });
    verticalScrollBar()->setPageStep(viewport()->height());
    verticalScrollBar()->setSingleStep(px(kCompareRow));
    verticalScrollBar()->setRange(0, std::max(0, rows() * px(kCompareRow) + 8 - viewport()->height()));
    viewport()->update();
}

void CompareStrips::resizeEvent(QResizeEvent*) { layOut(); }

void CompareStrips::changeEvent(QEvent* e) {
    QAbstractScrollArea::changeEvent(e);
    if (e->type() == QEvent::FontChange || e->type() == QEvent::StyleChange)
        layOut();
}

int CompareStrips::nameWidth() const { return std::min(px(kCompareName), viewport()->width() * 2 / 5); }

QRectF CompareStrips::curveBox(int row) const {
    const double top = 4 + row * px(kCompareRow) - verticalScrollBar()->value();
    return QRectF(QPointF(nameWidth(), top + 4),
                  QPointF(viewport()->width() - kCompareRight, top + px(kCompareRow) - 5));
}

int CompareStrips::rowAt(int y) const {
    const int row = (y + verticalScrollBar()->value() - 4) / px(kCompareRow);
    return y + verticalScrollBar()->value() >= 4 && row < rows() ? row : -1;
}

QPoint CompareStrips::pointOf(int motion, double at) const {
    for (int r = 0; r < rows(); ++r)
        if (const Row& row = rows_[static_cast<std::size_t>(r)]; row.motion == motion) {
            const QRectF box = curveBox(r);
            return QPointF(box.left() + box.width() * at / std::max(row.limit, 1e-9), box.center().y())
                .toPoint();
        }
    return {};
}

QString CompareStrips::sentenceAt(int at) const {
    const Row& r = rows_[static_cast<std::size_t>(at)];
    const auto onset = [&](const TroubleCurve& c) {
        return c.onset < 0 ? tr("within limits") : tr("from %1%2").arg(c.onset, 0, 'f', 0).arg(r.unit);
    };
    QString out = r.verdict == Change::Better  ? tr("%1: better").arg(r.name)
                  : r.verdict == Change::Worse ? tr("%1: worse").arg(r.name)
                                               : tr("%1: the same").arg(r.name);
    if (r.only)
        out += tr(", in %1").arg(inWords(measureOf(*r.only)));
    if (r.mixed)
        out += tr(", and something the other way");
    return out + tr("; %1 %2, %3 %4")
                     .arg(compare_->beforeName(), onset(r.before), compare_->nowName(), onset(r.now));
}

void CompareStrips::paintEvent(QPaintEvent* e) {
    QPainter p(viewport());
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(viewport()->rect(), Theme::current().paper);
    if (rows_.empty()) {
        p.setFont(typeface());
        p.setPen(Theme::current().muted);
        const QString why =
            !compare_->comparison()        ? QString()
            : order_ == Order::CameBack    ? tr("No defect that was closed came back.")
            : order_ == Order::BetterFirst ? tr("No motion is better than in %1.").arg(compare_->beforeName())
            : order_ == Order::WorseFirst  ? tr("No motion is worse than in %1.").arg(compare_->beforeName())
                                           : tr("No motion was run on both sides.");
        p.drawText(viewport()->rect().adjusted(kCompareLeft, 12, -kCompareRight, 0), Qt::TextWordWrap, why);
        return;
    }
    for (int r = 0; r < rows(); ++r)
        if (const QRectF box = curveBox(r);
            box.bottom() + 6 > e->rect().top() && box.top() - 6 <= e->rect().bottom())
            paintRow(p, r);
}

void CompareStrips::paintRow(QPainter& p, int at) {
    const Theme& t = Theme::current();
    const Row& row = rows_[static_cast<std::size_t>(at)];
    const QRectF box = curveBox(at);
    const bool chosen = row.motion == compare_->motion();
    if (chosen) {
        p.setPen(QPen(t.accent, hasFocus() ? 1.6 : 1));
        p.setBrush(t.accentSoft);
        p.drawRoundedRect(QRectF(6.5, box.top() - 3.5, viewport()->width() - 13, box.height() + 8), 3, 3);
    }
    p.setFont(typeface(1, chosen));
    p.setPen(t.ink);
    const QRectF text(kCompareLeft, box.top(), nameWidth() - kCompareLeft - 6, box.height());
    p.drawText(text, Qt::AlignVCenter,
               p.fontMetrics().elidedText(row.name, Qt::ElideRight, int(text.width())));

    const auto x = [&](double angle) { return box.left() + box.width() * angle / std::max(row.limit, 1e-9); };
    paintChange(p, box, row.limit, row.before, row.now, chosen ? t.accentSoft : t.paper);
    if (chosen && row.limit > 0) {
        p.setPen(QPen(t.accent, 3, Qt::SolidLine, Qt::FlatCap));
        const double here = x(compare_->poseAt());
        p.drawLine(QPointF(here, box.top() - 3), QPointF(here, box.bottom() + 3));
    }
}

void CompareStrips::scrub(double at) {
    for (int r = 0; r < rows(); ++r)
        if (const Row& row = rows_[static_cast<std::size_t>(r)]; row.motion == dragged_) {
            const QRectF box = curveBox(r);
            compare_->setPose(dragged_,
                              std::round(std::clamp((at - box.left()) / box.width(), 0.0, 1.0) * row.limit));
        }
}

void CompareStrips::mousePressEvent(QMouseEvent* e) {
    const int row = e->button() == Qt::LeftButton ? rowAt(e->position().toPoint().y()) : -1;
    if (row < 0)
        return;
    const Row& pressed = rows_[static_cast<std::size_t>(row)];
    if (e->position().x() < nameWidth() - 4) // the name chooses the motion, where it changed most
        return compare_->setPose(pressed.motion, pressed.at);
    dragged_ = pressed.motion;
    scrub(e->position().x());
}

void CompareStrips::mouseMoveEvent(QMouseEvent* e) {
    if (dragged_ >= 0)
        scrub(e->position().x());
    viewport()->setCursor(rowAt(e->position().toPoint().y()) >= 0 ? Qt::SizeHorCursor : Qt::ArrowCursor);
}

bool CompareStrips::viewportEvent(QEvent* e) {
    if (e->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(e);
        if (const int row = rowAt(help->pos().y()); row >= 0)
            QToolTip::showText(help->globalPos(), sentenceAt(row), this);
        else
            QToolTip::hideText();
        return true;
    }
    return QAbstractScrollArea::viewportEvent(e);
}

void CompareStrips::step(int by) {
    int at = by > 0 ? -1 : rows();
    for (int r = 0; r < rows(); ++r)
        if (rows_[static_cast<std::size_t>(r)].motion == compare_->motion())
            at = r;
    at += by;
    if (at < 0 || at >= rows())
        return;
    const Row& row = rows_[static_cast<std::size_t>(at)];
    compare_->setPose(row.motion, row.at);
    reveal(row.motion);
}

void CompareStrips::reveal(int motion) {
    for (int r = 0; r < rows(); ++r)
        if (rows_[static_cast<std::size_t>(r)].motion == motion) {
            const QRectF box = curveBox(r);
            if (box.top() < 0)
                verticalScrollBar()->setValue(verticalScrollBar()->value() + int(box.top()) - 8);
            else if (box.bottom() > viewport()->height())
                verticalScrollBar()->setValue(verticalScrollBar()->value() + int(box.bottom()) -
                                              viewport()->height() + 8);
        }
}

} // namespace hobble
