#include "app/compare/verdict_list.h"

#include "app/theme.h"
#include "app/widgets/severity_chip.h"

#include <QPainter>

namespace hobble {

VerdictModel::VerdictModel(CompareDesk* compare, QObject* parent)
    : QAbstractListModel(parent), compare_(compare) {
    connect(compare, &CompareDesk::checksChanged, this, [this] {
        beginResetModel();
        endResetModel();
    });
}

int VerdictModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() || !compare_->checks() ? 0 : static_cast<int>(compare_->checks()->checks.size());
}

QVariant VerdictModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= rowCount())
        return {};
    const DefectCheck& c = compare_->checks()->checks[index.row()];
    switch (role) {
    case Qt::DisplayRole:
        return QStringLiteral("%1. %2").arg(c.defect.id).arg(c.defect.facts.what);
    case SentenceRole:
        return c.sentence;
    case Qt::AccessibleTextRole:
        return tr("defect %1, %2: %3").arg(c.defect.id).arg(c.defect.facts.what, c.sentence);
    case Qt::ToolTipRole:
        return tr("%1\n%2").arg(c.defect.facts.what, c.sentence);
    case DefectRole:
        return c.defect.id;
    case SeverityRole:
        return c.defect.severity;
    case VerdictRole:
        return static_cast<int>(c.told.verdict);
    case SettledRole:
        return compare_->settled(c.defect.id);
    default:
        return {};
    }
}

int VerdictModel::rowOf(qint64 defect) const {
    for (int r = 0; r < rowCount(); ++r)
        if (compare_->checks()->checks[r].defect.id == defect)
            return r;
    return -1;
}

namespace {

constexpr int kVerdictLeft = 52, kVerdictRight = 14;

QRect sentenceBox(const QRect& row) { return row.adjusted(px(kVerdictLeft), px(24), -kVerdictRight, -4); }

} // namespace

QSize VerdictDelegate::sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const {
    const auto* view = qobject_cast<const QListView*>(option.widget);
    const int width = view ? view->viewport()->width() : 380;
    const QFontMetrics metrics(typeface(0.9));
    const QRect box(0, 0, std::max(80, width - px(kVerdictLeft) - kVerdictRight), 10000);
    const int text =
        metrics.boundingRect(box, Qt::TextWordWrap, index.data(VerdictModel::SentenceRole).toString())
            .height();
    return {width, px(24) + std::min(text, 3 * metrics.height()) + 10};
}

void VerdictDelegate::paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const {
    const Theme& t = Theme::current();
    const QRect row = option.rect.adjusted(6, 2, -6, -2);
    p->save();
    p->setRenderHint(QPainter::Antialiasing);
    const bool chosen = option.state & QStyle::State_Selected,
               settled = index.data(VerdictModel::SettledRole).toBool();
    if (chosen) {
        p->setPen(QPen(t.accent, option.state & QStyle::State_HasFocus ? 1.6 : 1));
        p->setBrush(t.accentSoft);
        p->drawRoundedRect(QRectF(row).adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
    }
    // Which way it went, by place and colour: worse hangs below the line, better stands above it.
    const auto verdict = static_cast<Verdict>(index.data(VerdictModel::VerdictRole).toInt());
    const double x = row.left() + 12, middle = row.top() + px(16), reach = px(8);
    p->setPen(QPen(t.muted, 1));
    p->drawLine(QPointF(x - 6, middle), QPointF(x + 6, middle));
    p->setPen(Qt::NoPen);
    switch (verdict) {
    case Verdict::Cured:
        p->setBrush(t.better);
        p->drawRect(QRectF(x - 4, middle - reach, 8, reach));
        break;
    case Verdict::Better:
        p->setBrush(t.better);
        p->drawRect(QRectF(x - 4, middle - reach / 2, 8, reach / 2));
        break;
    case Verdict::Worse:
        p->setBrush(t.worse);
        p->drawRect(QRectF(x - 4, middle, 8, reach));
        break;
    case Verdict::Moved:
        p->setBrush(t.worse);
        p->drawRect(QRectF(x + 1, middle, 5, reach / 2));
        break;
    default:
        break;
    }
    paintSeverity(*p, QRectF(row.left() + px(22), row.top() + px(5), px(20), px(20)),
                  index.data(VerdictModel::SeverityRole).toInt());
    p->setFont(typeface(1, chosen));
    p->setPen(settled ? t.muted : t.ink);
    const QRect head(row.left() + px(kVerdictLeft) - 6, row.top() + px(4), row.width() - px(kVerdictLeft) - 6,
                     px(20));
    p->drawText(head, Qt::AlignVCenter,
                p->fontMetrics().elidedText(index.data().toString(), Qt::ElideRight, head.width()));
    p->setFont(typeface(0.9));
    p->setPen(settled || verdict == Verdict::Cured || verdict == Verdict::Same ? t.muted : t.ink);
    p->drawText(sentenceBox(option.rect), Qt::TextWordWrap,
                index.data(VerdictModel::SentenceRole).toString());
    p->restore();
}

VerdictList::VerdictList(CompareDesk* compare, QWidget* parent) : QListView(parent), compare_(compare) {
    setObjectName(QStringLiteral("verdicts"));
    setAccessibleName(tr("Defects on this build"));
    setModel(model_ = new VerdictModel(compare, this));
    setItemDelegate(new VerdictDelegate(this));
    setFrameShape(QFrame::NoFrame);
    viewport()->setAutoFillBackground(false);
    setStyleSheet(QStringLiteral("background: transparent"));
    setVerticalScrollMode(ScrollPerPixel);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setUniformItemSizes(false);
    connect(model_, &QAbstractItemModel::modelReset, this, [this] {
        if (const int row = model_->rowOf(kept_); row >= 0) {
            const QSignalBlocker quiet(selectionModel());
            setCurrentIndex(model_->index(row));
        }
        emit chosenChanged();
    });
    connect(selectionModel(), &QItemSelectionModel::currentChanged, this, [this](const QModelIndex& at) {
        if (!at.isValid())
            return;
        kept_ = at.data(VerdictModel::DefectRole).toLongLong();
        compare_->showCheck(kept_);
        emit chosenChanged();
    });
}

void VerdictList::resizeEvent(QResizeEvent* e) {
    QListView::resizeEvent(e);
    scheduleDelayedItemsLayout(); // sentences wrap anew
}

qint64 VerdictList::chosen() const {
    return currentIndex().isValid() ? currentIndex().data(VerdictModel::DefectRole).toLongLong() : 0;
}

void VerdictList::choose(qint64 defect) {
    if (const int row = model_->rowOf(defect); row >= 0) {
        setCurrentIndex(model_->index(row));
        scrollTo(currentIndex());
    }
}

void VerdictList::step(int by) {
    const int rows = model_->rowCount(),
              at = currentIndex().isValid() ? currentIndex().row() : (by > 0 ? -1 : rows);
    if (at + by >= 0 && at + by < rows)
        setCurrentIndex(model_->index(at + by));
}

} // namespace hobble
