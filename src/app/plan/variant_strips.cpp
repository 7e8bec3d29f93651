#include "app/plan/variant_strips.h"

#include "app/theme.h"
#include "app/widgets/trouble_paint.h"
#include "core/words/motion_words.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>
#include <QToolTip>

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {
constexpr int kVariantRow = 30, kVariantName = 136, kVariantLeft = 14, kVariantRight = 14, kVariantGap = 10,
              kLeastVariant = 84;
} // namespace

VariantStrips::VariantStrips(BuildDesk* build, PlanDesk* plan, RunDesk* run, PoseDesk* pose, QWidget* parent)
    : QAbstractScrollArea(parent), build_(build), plan_(plan), run_(run), pose_(pose) {
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::StrongFocus);
    setObjectName(QStringLiteral("variantStrips"));
    setAccessibleName(tr("Variants side by side"));
    viewport()->setMouseTracking(true);
    connect(run, &RunDesk::variantsTested, this, &VariantStrips::rebuild);
    connect(build, &BuildDesk::characterChanged, this, &VariantStrips::rebuild);
    connect(build, &BuildDesk::variantsChanged, this, &VariantStrips::rebuild);
    rebuild();
}

void VariantStrips::rebuild() {
    std::vector<std::vector<TroubleCurve>> curves;
    for (const VariantResult& r : run_->variantResults())
        curves.push_back(r.curves);
    const int motion = row_ >= 0 && row_ < rows() ? rows_[static_cast<std::size_t>(row_)].motion : -1;
    rows_ = variantDifferences(curves);
    row_ = -1;
    for (int r = 0; r < rows(); ++r)
        if (rows_[static_cast<std::size_t>(r)].motion == motion)
            row_ = r;
    if (row_ < 0)
        column_ = -1;
    layOut();
    emit changed();
}

const Motion& VariantStrips::motionOf(int row) const {
    return run_->variantPlan().motions[static_cast<std::size_t>(rows_[static_cast<std::size_t>(row)].motion)];
}

const TroubleCurve& VariantStrips::curve(int row, int column) const {
    return run_->variantResults()[static_cast<std::size_t>(column)]
        .curves[static_cast<std::size_t>(rows_[static_cast<std::size_t>(row)].motion)];
}

void VariantStrips::layOut() {
    verticalScrollBar()->setPageStep(viewport()->height());
    verticalScrollBar()->setSingleStep(px(kVariantRow));
    verticalScrollBar()->setRange(
        0, std::max(0, headHeight() + rows() * px(kVariantRow) + 8 - viewport()->height()));
    const int wide = nameWidth() + columns() * (px(kLeastVariant) + kVariantGap) + kVariantRight;
    horizontalScrollBar()->setPageStep(viewport()->width());
    horizontalScrollBar()->setSingleStep(px(kLeastVariant));
    horizontalScrollBar()->setRange(0, std::max(0, wide - viewport()->width()));
    viewport()->update();
}

void VariantStrips::resizeEvent(QResizeEvent*) { layOut(); }

void VariantStrips::changeEvent(QEvent* e) {
    QAbstractScrollArea::changeEvent(e);
    if (e->type() == QEvent::FontChange || e->type() == QEvent::StyleChange)
        layOut();
}

int VariantStrips::nameWidth() const { return std::min(px(kVariantName), viewport()->width() * 2 / 5); }
int VariantStrips::headHeight() const { return 2 * px(17) + 12; }

QRectF VariantStrips::box(int row, int column) const {
    const double room =
        (viewport()->width() - nameWidth() - kVariantRight) / double(std::max(1, columns())) - kVariantGap;
    const double width = std::max(room, double(px(kLeastVariant)));
    const double left = nameWidth() + column * (width + kVariantGap) - horizontalScrollBar()->value();
    const double top = headHeight() + row * px(kVariantRow) - verticalScrollBar()->value();
    return {left, top + 4, width, px(kVariantRow) - 9.0};
}

QPoint VariantStrips::pointOf(int row, int column, double at) const {
    const QRectF b = box(row, column);
    return QPointF(b.left() + b.width() * at / std::max(motionOf(row).limit(), 1e-9), b.center().y())
        .toPoint();
}

int VariantStrips::rowAt(const QPoint& at) const {
    if (at.y() < headHeight())
        return -1;
    const int row = (at.y() - headHeight() + verticalScrollBar()->value()) / px(kVariantRow);
    return row < rows() ? row : -1;
}

int VariantStrips::columnAt(const QPoint& at) const {
    for (int c = 0; c < columns(); ++c)
        if (const QRectF b = box(0, c);
            at.x() >= std::max(b.left() - kVariantGap / 2.0, double(nameWidth())) &&
            at.x() <= b.right() + kVariantGap / 2.0)
            return c;
    return -1;
}

QString VariantStrips::sentenceAt(int row, int column) const {
    const Motion& m = motionOf(row);
    const auto onset = [&](const TroubleCurve& c) {
        const QString unit = m.span == Span::Degrees   ? QStringLiteral("°")
                             : m.span == Span::Percent ? QStringLiteral(" %")
                                                       : QString();
        return c.at.empty()  ? tr("not run")
               : c.onset < 0 ? tr("within limits")
                             : tr("from %1%2").arg(c.onset, 0, 'f', 0).arg(unit);
    };
    const QString name = QString::fromStdString(wordsFor(m)), build = onset(curve(row, 0));
    if (column <= 0)
        return tr("%1, the build as it is: %2").arg(name, build);
    const double change = changeSince(curve(row, 0), curve(row, column));
    const QString variant = run_->variantResults()[static_cast<std::size_t>(column)].name;
    return tr("%1, %2: %3; %4, the build as it is %5")
        .arg(name, variant,
             change > 0   ? tr("worse")
             : change < 0 ? tr("better")
                          : tr("the same"),
             onset(curve(row, column)), build);
}

void VariantStrips::paintEvent(QPaintEvent* e) {
    const Theme& t = Theme::current();
    QPainter p(viewport());
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(viewport()->rect(), t.paper);
    if (columns() == 0)
        return;
    for (int r = 0; r < rows(); ++r) {
        const QRectF b = box(r, 0);
        if (b.bottom() + 6 < headHeight() || b.top() - 6 > e->rect().bottom())
            continue;
        if (r == row_) {
            p.setPen(QPen(t.accent, hasFocus() ? 1.6 : 1));
            p.setBrush(t.accentSoft);
            p.drawRoundedRect(QRectF(6.5, b.top() - 3.5, viewport()->width() - 13, b.height() + 8), 3, 3);
        }
        p.save();
        p.setClipRect(QRect(nameWidth() - 4, headHeight() - 4, viewport()->width(), viewport()->height()));
        for (int c = 0; c < columns(); ++c)
            paintStrip(p, r, c);
        p.restore();
        p.setFont(typeface(1, r == row_));
        p.setPen(t.ink);
        const QRectF text(kVariantLeft, b.top(), nameWidth() - kVariantLeft - 8, b.height());
        p.drawText(text, Qt::AlignVCenter,
                   p.fontMetrics().elidedText(QString::fromStdString(wordsFor(motionOf(r))), Qt::ElideRight,
                                              int(text.width())));
    }
    p.fillRect(QRect(0, 0, viewport()->width(), headHeight() - 4), t.paper);
    p.setClipRect(QRect(nameWidth() - 4, 0, viewport()->width(), headHeight()));
    for (int c = 0; c < columns(); ++c) {
        const VariantResult& r = run_->variantResults()[static_cast<std::size_t>(c)];
        const QRectF b = box(0, c);
        const auto line = [&](int at, const QString& words) {
            const QRectF where(b.left(), 4 + at * px(17), b.width(), px(17));
            p.drawText(where, Qt::AlignVCenter,
                       p.fontMetrics().elidedText(words, Qt::ElideRight, int(where.width())));
        };
        p.setFont(typeface(1, c == build_->variant() + 1));
        p.setPen(t.ink);
        line(0, c == 0 ? tr("the build") : r.name);
        p.setFont(typeface(0.92));
        p.setPen(t.muted);
        line(1, c == 0         ? tr("%n faults", nullptr, r.faults)
                : r.fresh == 0 ? tr("nothing new")
                               : tr("%n new", nullptr, r.fresh));
    }
    if (rows() == 0) {
        p.setClipping(false);
        p.setFont(typeface());
        p.setPen(t.muted);
        p.drawText(viewport()->rect().adjusted(kVariantLeft, headHeight(), -kVariantRight, 0),
                   Qt::TextWordWrap, tr("No motion goes otherwise on a variant than on the build."));
    }
}

void VariantStrips::paintStrip(QPainter& p, int row, int column) {
    const Theme& t = Theme::current();
    const QRectF b = box(row, column);
    const bool chosen = row == row_;
    const double limit = motionOf(row).limit();
    paintChange(p, b, limit, curve(row, 0), curve(row, column), chosen ? t.accentSoft : t.paper);
    if (!chosen || column != column_ || limit <= 0)
        return;
    const double here = b.left() + b.width() * at_ / limit;
    p.setPen(QPen(t.accent, 3, Qt::SolidLine, Qt::FlatCap));
    p.drawLine(QPointF(here, b.top() - 3), QPointF(here, b.bottom() + 3));
}

// The pose is taken first: another variant is put on in the pose that is shown.
void VariantStrips::choose(int row, int column, double at) {
    const Motion& m = motionOf(row);
    row_ = row;
    column_ = column;
    at_ = std::clamp(std::round(at), 0.0, m.limit());
    if (const int motion = plan_->plan().find(m.id); motion >= 0)
        run_->setPose(motion, at_);
    if (const auto s = build_->subject()) {
        pose_->selectJoint(m.turns.empty() ? -1 : m.turns.front().joint);
        pose_->showPose(poseAt(s->character->skeleton, m, at_), QString::fromStdString(wordsFor(m)));
    }
    if (build_->variant() != column - 1)
        build_->wear(column - 1);
    setAccessibleDescription(sentenceAt(row, column));
    const QRectF b = box(row, column);
    if (b.top() < headHeight())
        verticalScrollBar()->setValue(verticalScrollBar()->value() + int(b.top()) - headHeight() - 4);
    else if (b.bottom() > viewport()->height())
        verticalScrollBar()->setValue(verticalScrollBar()->value() + int(b.bottom()) - viewport()->height() +
                                      8);
    viewport()->update();
}

void VariantStrips::mousePressEvent(QMouseEvent* e) {
    const QPoint here = e->position().toPoint();
    const int row = e->button() == Qt::LeftButton ? rowAt(here) : -1;
    if (row < 0)
        return;
    const VariantDifference& d = rows_[static_cast<std::size_t>(row)];
    const int column = columnAt(here);
    if (column < 0) // the name: the variant that differs most, where it does
        return choose(row, d.variant, d.at);
    const QRectF b = box(row, column);
    dragged_ = true;
    choose(row, column, (e->position().x() - b.left()) / b.width() * motionOf(row).limit());
}

void VariantStrips::mouseMoveEvent(QMouseEvent* e) {
    if (dragged_ && row_ >= 0 && column_ >= 0) {
        const QRectF b = box(row_, column_);
        choose(row_, column_, (e->position().x() - b.left()) / b.width() * motionOf(row_).limit());
    }
    viewport()->setCursor(rowAt(e->position().toPoint()) >= 0 ? Qt::SizeHorCursor : Qt::ArrowCursor);
}

void VariantStrips::keyPressEvent(QKeyEvent* e) {
    const int down = (e->key() == Qt::Key_Down) - (e->key() == Qt::Key_Up),
              across = (e->key() == Qt::Key_Right) - (e->key() == Qt::Key_Left);
    if ((!down && !across) || rows() == 0 || e->modifiers() & ~Qt::KeypadModifier)
        return QAbstractScrollArea::keyPressEvent(e);
    const int row = std::clamp(row_ + down, 0, rows() - 1);
    const VariantDifference& d = rows_[static_cast<std::size_t>(row)];
    choose(row, column_ < 0 ? d.variant : std::clamp(column_ + across, 0, columns() - 1),
           row == row_ ? at_ : d.at);
}

bool VariantStrips::viewportEvent(QEvent* e) {
    if (e->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(e);
        if (const int row = rowAt(help->pos()); row >= 0)
            QToolTip::showText(help->globalPos(), sentenceAt(row, columnAt(help->pos())), this);
        else
            QToolTip::hideText();
        return true;
    }
    return QAbstractScrollArea::viewportEvent(e);
}

} // namespace hobble
