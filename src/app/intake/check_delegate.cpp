#include "app/intake/check_delegate.h"

#include "app/intake/check_model.h"
#include "app/theme.h"
#include "app/widgets/severity_chip.h"

#include <QAbstractItemView>
#include <QPainter>

namespace hobble {

namespace {

constexpr int kChip = 22;
constexpr int kBar = 14; // kept free for the scroll bar, so that rows keep their height when it comes

QRect textPlace(const QRect& whole, CheckModel::Kind kind) {
    const int left = kind == CheckModel::Kind::Failing  ? kChip + 20
                     : kind == CheckModel::Kind::Passed ? 20
                                                        : 6;
    return whole.adjusted(left, 6, -8, -6);
}

QString wordsOf(const QModelIndex& index, CheckModel::Kind kind) {
    QString words = index.data().toString();
    if (kind == CheckModel::Kind::Failing)
        if (const qint64 defect = index.data(CheckModel::DefectRole).toLongLong())
            words += CheckModel::tr(" Defect %1.").arg(defect);
    return words;
}

} // namespace

void CheckDelegate::paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const {
    const Theme& t = Theme::current();
    const auto kind = static_cast<CheckModel::Kind>(index.data(CheckModel::KindRole).toInt());
    p->save();
    p->setRenderHint(QPainter::Antialiasing);
    if (option.state & QStyle::State_Selected)
        p->fillRect(option.rect, t.accentSoft);
    else if (option.state & QStyle::State_MouseOver)
        p->fillRect(option.rect, t.panel);
    if (kind == CheckModel::Kind::Failing) {
        p->setFont(typeface());
        paintSeverity(*p, QRectF(option.rect.left() + 6, option.rect.top() + 6, kChip, kChip),
                      index.data(CheckModel::SeverityRole).toInt());
    }
    p->setFont(typeface(1, kind == CheckModel::Kind::Fold));
    p->setPen(kind == CheckModel::Kind::Failing ? t.ink
              : kind == CheckModel::Kind::Fold  ? t.accent
                                                : t.muted);
    QRect place = option.rect;
    if (option.widget)
        place.setWidth(option.widget->width() - kBar);
    p->drawText(textPlace(place, kind), Qt::TextWordWrap | Qt::AlignTop, wordsOf(index, kind));
    if (option.state & QStyle::State_HasFocus) {
        p->setPen(QPen(t.accent, 1));
        p->drawRect(QRectF(option.rect).adjusted(0.5, 0.5, -0.5, -0.5));
    }
    p->restore();
}

QSize CheckDelegate::sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const {
    const auto kind = static_cast<CheckModel::Kind>(index.data(CheckModel::KindRole).toInt());
    const auto* view = qobject_cast<const QAbstractItemView*>(option.widget);
    const int width = view ? view->width() - kBar : 300;
    const QFontMetrics m(typeface(1, kind == CheckModel::Kind::Fold));
    const QRect place = textPlace({0, 0, width, 10000}, kind);
    const int height = m.boundingRect(place, Qt::TextWordWrap | Qt::AlignTop, wordsOf(index, kind)).height();
    return {width, std::max(height, kind == CheckModel::Kind::Failing ? kChip : 0) + 12};
}

} // namespace hobble
