#include "app/review/strip_view.h"

#include "app/theme.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QScrollBar>
#include <QToolTip>

#include <cmath>

namespace hobble {

namespace {
constexpr int kRowHeight = 30, kGroupHeight = 26, kNameWidth = 136; // at the normal text size
constexpr int kMargin = 20, kRightMargin = 22;
constexpr double kLevel = 0.36; // share of a strip's height at which the first limit lies

// Within limits the silhouette rises evenly; beyond, ever more slowly, so that bad and terrible still differ.
double share(double trouble) {
    return trouble <= 1 ? kLevel * trouble : kLevel + (1 - kLevel) * (1 - std::exp(-(trouble - 1) / 2.5));
}
} // namespace

StripView::StripView(StripModel* model, BuildDesk* build, PlanDesk* plan, RunDesk* run, QWidget* parent)
    : QAbstractScrollArea(parent), model_(model), build_(build), plan_(plan), run_(run) {
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Motion strips"));
    viewport()->setMouseTracking(true);
    viewport()->setAutoFillBackground(false);
    folded_ = {QStringLiteral("Hands"), QStringLiteral("Feet"), QStringLiteral("Tail"),
               QStringLiteral("Other")};
    connect(model, &QAbstractItemModel::modelReset, this, [this] { layOut(); });
    connect(model, &StripModel::orderChanged, this, [this] { verticalScrollBar()->setValue(0); });
    connect(model, &QAbstractItemModel::dataChanged, viewport(), QOverload<>::of(&QWidget::update));
    connect(run_, &RunDesk::poseChanged, this, [this] {
        const QModelIndex at = run_->motion() >= 0 ? model_->indexOf(run_->motion()) : QModelIndex();
        setAccessibleDescription(at.isValid() ? at.data(StripModel::SentenceRole).toString() : QString());
        for (const Line& line : lines_) // the row left and the row come to; painting them all takes long
            if (line.index == marked_ || line.index == at)
                viewport()->update(0, line.top - verticalScrollBar()->value(), viewport()->width(),
                                   line.height);
        marked_ = at;
    });
    layOut();
}

void StripView::layOut() {
    lines_.clear();
    int y = 4;
    for (int g = 0; g < model_->rowCount(); ++g) {
        const QModelIndex group = model_->index(g, 0);
        if (!group.data().toString().isEmpty()) {
            lines_.push_back({group, y, px(kGroupHeight), true});
            y += px(kGroupHeight);
        }
        if (folded_.contains(group.data().toString()))
            continue;
        for (int r = 0; r < model_->rowCount(group); ++r) {
            lines_.push_back({model_->index(r, 0, group), y, px(kRowHeight), false});
            y += px(kRowHeight);
        }
        y += 4;
    }
    verticalScrollBar()->setPageStep(viewport()->height());
    verticalScrollBar()->setSingleStep(px(kRowHeight));
    verticalScrollBar()->setRange(0, std::max(0, y + 8 - viewport()->height()));
    viewport()->update();
}

void StripView::resizeEvent(QResizeEvent*) { layOut(); }

void StripView::changeEvent(QEvent* e) {
    QAbstractScrollArea::changeEvent(e);
    if (e->type() == QEvent::FontChange || e->type() == QEvent::StyleChange)
        layOut();
}

// Large text takes room from the curves, but never most of it.
int StripView::nameWidth() const { return std::min(px(kNameWidth), viewport()->width() * 2 / 5); }

QRectF StripView::curveBox(const Line& line) const {
    const double right = viewport()->width() - kRightMargin;
    return QRectF(nameWidth(), line.top + 3 - verticalScrollBar()->value(), right - nameWidth(),
                  line.height - 6);
}

QRectF StripView::halfBox(const Line& line, const StripCurve& c, const StripRow& row) const {
    QRectF box = curveBox(line);
    if (&c == &row.left)
        box.setRight(box.center().x());
    else if (&c == &row.right)
        box.setLeft(box.center().x());
    return box;
}

void StripView::paintEvent(QPaintEvent* e) {
    QPainter p(viewport());
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(viewport()->rect(), Theme::current().paper);
    if (lines_.empty()) {
        p.setPen(Theme::current().muted);
        p.drawText(viewport()->rect().adjusted(24, 24, -24, -24), Qt::TextWordWrap,
                   build_->subject() && !plan_->plan().motions.empty()
                       ? tr("No motion fits what is chosen above.")
                       : tr("No character is open. Open one with Ctrl+O, or drop a .glb or .gltf file here; "
                            "its motions will stand here, each as a strip."));
        return;
    }
    for (const Line& line : lines_) {
        const int y = line.top - verticalScrollBar()->value();
        if (y + line.height > e->rect().top() && y <= e->rect().bottom())
            paintLine(p, line);
    }
}

void StripView::paintLine(QPainter& p, const Line& line) {
    const Theme& t = Theme::current();
    const StripRow& row = model_->row(line.index);
    const int y = line.top - verticalScrollBar()->value();
    const int width = viewport()->width();
    const bool folded = line.group && folded_.contains(row.name);

    if (line.group) {
        const int count = model_->rowCount(line.index);
        p.setFont(typeface(0.92));
        p.setPen(t.muted);
        const QString name = folded ? tr("%1 (%2)").arg(row.name).arg(count) : row.name;
        const QRectF text(kMargin, y, nameWidth() - kMargin, line.height);
        p.drawText(text, Qt::AlignVCenter, name);
        if (!folded) {
            p.setPen(t.hairline);
            const double x = kMargin + QFontMetricsF(p.font()).horizontalAdvance(name) + 8;
            p.drawLine(QPointF(x, y + line.height / 2.0),
                       QPointF(width - kRightMargin, y + line.height / 2.0));
            return;
        }
    }
    const bool chosen = !line.group && run_->motion() >= 0 &&
                        (row.left.motion == run_->motion() || row.right.motion == run_->motion() ||
                         row.single.motion == run_->motion());
    if (chosen) {
        p.setPen(QPen(t.accent, hasFocus() ? 1.6 : 1));
        p.setBrush(t.accentSoft);
        p.drawRoundedRect(QRectF(6.5, y + 0.5, width - 13, line.height - 1), 3, 3);
    }
    if (!line.group) {
        p.setFont(typeface(1, chosen));
        p.setPen(t.ink);
        const QRectF text(kMargin, y, nameWidth() - kMargin - 4, line.height);
        p.drawText(text, Qt::AlignVCenter,
                   p.fontMetrics().elidedText(row.name, Qt::ElideRight, int(text.width())));
    }
    const bool sided = row.single.motion < 0;
    if (sided) {
        paintCurve(p, row.left, halfBox(line, row.left, row), true, !line.group);
        paintCurve(p, row.right, halfBox(line, row.right, row), false, !line.group);
        const QRectF box = curveBox(line);
        p.setPen(QPen(t.muted, 1));
        p.drawLine(QPointF(box.center().x(), box.top() - 1), QPointF(box.center().x(), box.bottom()));
    } else {
        paintCurve(p, row.single, curveBox(line), false, !line.group);
        p.setPen(QPen(t.muted, 1));
        p.drawLine(curveBox(line).topLeft(), curveBox(line).bottomLeft());
    }
    if (chosen) { // where the character stands now
        for (const StripCurve* c : {&row.left, &row.right, &row.single})
            if (c->motion == run_->motion() && c->limit > 0) {
                const QRectF box = halfBox(line, *c, row);
                const double along = run_->poseAt() / c->limit;
                const double x =
                    c == &row.left ? box.right() - along * box.width() : box.left() + along * box.width();
                p.setPen(QPen(t.accent, 3, Qt::SolidLine, Qt::FlatCap));
                p.drawLine(QPointF(x, box.top() - 3), QPointF(x, box.bottom() + 3));
            }
    }
}

// The upper or the lower edge of the band about a curve.
QPolygonF StripView::edgeOf(const TroubleCurve& c, int side, const Place& x, const Place& y,
                            double limit) const {
    QPolygonF out;
    for (std::size_t i = 0; i < c.at.size() && c.at[i] <= limit; ++i)
        out << QPointF(x(c.at[i]),
                       y(std::max(0.0, c.trouble[i] + side * bandOf(model_->filter().kind, c.trouble[i]))));
    return out;
}

void StripView::paintBand(QPainter& p, const TroubleCurve& c, const Place& x, const Place& y,
                          double limit) const {
    QPolygonF band = edgeOf(c, 1, x, y, limit), under = edgeOf(c, -1, x, y, limit);
    std::reverse(under.begin(), under.end());
    p.setPen(Qt::NoPen);
    QColor soft = Theme::current().accent;
    soft.setAlphaF(0.28f);
    p.setBrush(soft);
    p.drawPolygon(band + under);
}

// How much of the show's animation is at each place: strokes that stand below the limit,
// the taller the more frames; the height grows with the root, so that what is rare is still seen.
void StripView::paintUse(QPainter& p, const StripCurve& c, const QRectF& box, const Place& x) const {
    const double parts = static_cast<double>(c.use.size());
    const double most =
        *std::max_element(c.use.begin() + 1, c.use.end()); // what stands in neutral says nothing
    if (!(most > 0))
        return;
    p.setRenderHint(QPainter::Antialiasing, false);
    p.setPen(QPen(Theme::current().useStroke, 1));
    for (std::size_t i = 0; i < c.use.size(); ++i) {
        if (c.use[i] <= 0)
            continue;
        const double at = std::round(x(c.limit * (static_cast<double>(i) + 0.5) / parts));
        const double high =
            std::max(2.0, (kLevel * box.height() - 1) * std::min(1.0, std::sqrt(c.use[i] / most)));
        p.drawLine(QPointF(at, box.bottom()), QPointF(at, box.bottom() - high));
    }
    p.setRenderHint(QPainter::Antialiasing, true);
}

void StripView::paintCurve(QPainter& p, const StripCurve& c, const QRectF& box, bool leftwards,
                           bool labelled) {
    if (c.motion < 0)
        return;
    const Theme& t = Theme::current();
    const double level = box.bottom() - box.height() * kLevel;
    const Place x = [&](double degrees) {
        const double along = c.limit > 0 ? degrees / c.limit : 0;
        return leftwards ? box.right() - along * box.width() : box.left() + along * box.width();
    };
    const Place y = [&](double trouble) { return box.bottom() - box.height() * share(trouble); };
    const double end = x(c.limit), start = x(0);
    if (c.trouble.empty()) {
        if (!c.use.empty())
            paintUse(p, c, box, x);
        p.setPen(QPen(t.hairline, 1));
        p.drawLine(QPointF(start, box.bottom()), QPointF(end, box.bottom()));
        return;
    }
    if (!c.good.trouble.empty()) // what the reference shows, give and take what re-meshing leaves
        paintBand(p, c.good, x, y, c.limit);
    QPainterPath body(QPointF(start, box.bottom()));
    for (std::size_t i = 0; i < c.at.size(); ++i)
        body.lineTo(x(c.at[i]), y(c.trouble[i]));
    body.lineTo(end, box.bottom());
    body.closeSubpath();
    p.setPen(Qt::NoPen);
    p.setBrush(t.stripBody);
    p.drawPath(body);
    if (c.worst > 1) {
        p.save();
        p.setClipRect(
            QRectF(QPointF(std::min(start, end), box.top() - 1), QPointF(std::max(start, end), level)));
        p.setBrush(c.severity >= 3 ? t.stripGrave : t.stripMild);
        p.drawPath(body);
        p.restore();
    }
    if (!c.use.empty()) // over the body: where both are is what one looks for
        paintUse(p, c, box, x);
    if (!c.earlier.at.empty() && model_->filter().onlyChanged) { // the earlier build, dashed
        QPainterPath before(QPointF(start, box.bottom()));
        for (std::size_t i = 0; i < c.earlier.at.size(); ++i)
            before.lineTo(x(std::min(c.earlier.at[i], c.limit)), y(c.earlier.trouble[i]));
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(t.accent, 1.2, Qt::DashLine));
        p.drawPath(before);
    }
    if (!c.good.trouble.empty()) { // where the band is hidden, its upper edge still tells
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(t.accent, 1));
        p.drawPolyline(edgeOf(c.good, 1, x, y, c.limit));
    }
    p.setPen(QPen(t.limitLine, 1, Qt::DotLine));
    p.drawLine(QPointF(start, level), QPointF(end, level));
    p.setPen(QPen(t.hairline, 1));
    p.drawLine(QPointF(start, box.bottom()), QPointF(end, box.bottom()));
    if (c.peak >= 0) { // a notch above the worst angle
        const double px = x(c.peak), py = std::max(y(c.worst), box.top()) - 1;
        p.setPen(Qt::NoPen);
        p.setBrush(t.ink);
        p.drawPolygon(QPolygonF({QPointF(px, py + 4), QPointF(px - 3, py - 1), QPointF(px + 3, py - 1)}));
    }
    if (c.onset >= 0 && labelled) {
        const double ox = x(c.onset);
        p.setPen(QPen(t.ink, 1.4));
        p.drawLine(QPointF(ox, level - 1), QPointF(ox, box.bottom() + 1));
        p.setFont(typeface(0.78));
        const QString text = QStringLiteral("%1%2").arg(c.onset, 0, 'f', 0).arg(c.unit);
        const double w = QFontMetricsF(p.font()).horizontalAdvance(text) + 2;
        // beside the tick on its quiet side, where the curve has not risen yet
        const double left = leftwards ? ox + 3 : ox - 3 - w;
        p.drawText(QRectF(std::clamp(left, std::min(start, end) + 1, std::max(start, end) - w), box.top() - 2,
                          w, level - box.top() + 2),
                   Qt::AlignCenter, text);
    }
}

const StripView::Line* StripView::lineAt(int y) const {
    const int at = y + verticalScrollBar()->value();
    for (const Line& l : lines_)
        if (at >= l.top && at < l.top + l.height)
            return &l;
    return nullptr;
}

QPoint StripView::pointOf(int motion, double degrees) const {
    for (const Line& l : lines_) {
        if (l.group)
            continue;
        const StripRow& row = model_->row(l.index);
        for (const StripCurve* c : {&row.left, &row.right, &row.single})
            if (c->motion == motion) {
                const QRectF box = halfBox(l, *c, row);
                const double along = c->limit > 0 ? degrees / c->limit : 0;
                return QPointF(c == &row.left ? box.right() - along * box.width()
                                              : box.left() + along * box.width(),
                               box.center().y())
                    .toPoint();
            }
    }
    return {};
}

void StripView::scrub(const QPoint& at) {
    // While dragging, the motion pressed on keeps the hand wherever it goes; its far end and neutral are easy
    // to hit.
    for (const Line& l : lines_) {
        const StripRow& row = model_->row(l.index);
        for (const StripCurve* c : {&row.left, &row.right, &row.single}) {
            if (c->motion != dragged_ || l.group)
                continue;
            const QRectF box = halfBox(l, *c, row);
            double along = (at.x() - box.left()) / box.width();
            if (c == &row.left)
                along = 1 - along;
            run_->setPose(dragged_, std::round(std::clamp(along, 0.0, 1.0) * c->limit));
            return;
        }
    }
}

void StripView::mousePressEvent(QMouseEvent* e) {
    const Line* line = e->button() == Qt::LeftButton ? lineAt(e->position().toPoint().y()) : nullptr;
    if (!line)
        return;
    const StripRow& row = model_->row(line->index);
    if (line->group)
        return setFolded(row.name, !folded_.contains(row.name));
    const double x = e->position().x();
    if (row.single.motion >= 0)
        dragged_ = row.single.motion;
    else {
        const bool leftHalf = x < curveBox(*line).center().x();
        dragged_ = leftHalf && row.left.motion >= 0 ? row.left.motion : row.right.motion;
        if (dragged_ < 0)
            dragged_ = row.left.motion;
    }
    if (x < nameWidth() - 4) { // the name chooses the motion, at its worst angle
        const int motion = dragged_;
        dragged_ = -1;
        const StripCurve& c = row.single.motion >= 0      ? row.single
                              : row.left.motion == motion ? row.left
                                                          : row.right;
        return run_->setPose(motion, std::max(c.peak, 0.0));
    }
    scrub(e->position().toPoint());
}

void StripView::mouseMoveEvent(QMouseEvent* e) {
    if (dragged_ >= 0)
        scrub(e->position().toPoint());
    const Line* line = lineAt(e->position().toPoint().y());
    viewport()->setCursor(line && !line->group ? Qt::SizeHorCursor : Qt::ArrowCursor);
}

void StripView::mouseReleaseEvent(QMouseEvent*) { dragged_ = -1; }

bool StripView::viewportEvent(QEvent* e) {
    if (e->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(e);
        const Line* line = lineAt(help->pos().y());
        if (line && !line->group)
            QToolTip::showText(help->globalPos(), line->index.data(StripModel::SentenceRole).toString(),
                               this);
        else
            QToolTip::hideText();
        return true;
    }
    return QAbstractScrollArea::viewportEvent(e);
}

void StripView::setFolded(const QString& group, bool folded) {
    if (folded)
        folded_.insert(group);
    else
        folded_.remove(group);
    layOut();
}

void StripView::foldChosen() {
    const QModelIndex at = run_->motion() >= 0 ? model_->indexOf(run_->motion()) : QModelIndex();
    if (!at.isValid())
        return;
    if (const QString group = at.parent().data().toString(); !group.isEmpty())
        setFolded(group, !isFolded(group));
}

void StripView::reveal(int motion) {
    const QModelIndex index = model_->indexOf(motion);
    if (!index.isValid())
        return;
    const QString group = index.parent().data().toString();
    if (folded_.contains(group))
        setFolded(group, false);
    for (const Line& l : lines_)
        if (l.index == index) {
            QScrollBar* bar = verticalScrollBar();
            if (l.top < bar->value())
                bar->setValue(l.top - px(kGroupHeight));
            else if (l.top + l.height > bar->value() + viewport()->height())
                bar->setValue(l.top + l.height - viewport()->height() + 8);
        }
}

int StripView::motionBeside(int from, int by) const {
    std::vector<int> order;
    std::size_t at = 0;
    const bool right = from >= 0 && plan_->plan().motions[from].side == Side::Right;
    for (const Line& l : lines_) {
        if (l.group)
            continue;
        const StripRow& row = model_->row(l.index);
        if (row.left.motion == from || row.right.motion == from || row.single.motion == from)
            at = order.size();
        order.push_back(row.single.motion >= 0           ? row.single.motion
                        : right && row.right.motion >= 0 ? row.right.motion
                        : row.left.motion >= 0           ? row.left.motion
                                                         : row.right.motion);
    }
    const auto next = static_cast<std::ptrdiff_t>(at) + by;
    return next >= 0 && next < static_cast<std::ptrdiff_t>(order.size()) ? order[next] : -1;
}

} // namespace hobble
