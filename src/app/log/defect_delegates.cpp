#include "app/log/defect_delegates.h"

#include "app/log/log_model.h"
#include "app/theme.h"
#include "app/widgets/severity_chip.h"

#include <QPainter>

namespace hobble {

void SeverityDelegate::paint(QPainter* p, const QStyleOptionViewItem& option,
                             const QModelIndex& index) const {
    QStyleOptionViewItem o = option;
    initStyleOption(&o, index);
    o.text.clear();
    o.widget->style()->drawControl(QStyle::CE_ItemViewItem, &o, p, o.widget);
    const int severity = index.data().toInt();
    if (!severity)
        return;
    const QRectF chip(o.rect.left() + 10, o.rect.center().y() - 11, 22, 22);
    if (o.state & QStyle::State_Selected) // on paper, or it could not be read
        p->fillRect(chip.adjusted(-3, -3, 3, 3), Theme::current().panel);
    paintSeverity(*p, chip, severity);
}

QSize DefectRowDelegate::sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const {
    return {80, px(44)};
}

void DefectRowDelegate::paint(QPainter* p, const QStyleOptionViewItem& option,
                              const QModelIndex& index) const {
    QStyleOptionViewItem o = option;
    initStyleOption(&o, index);
    o.font.setBold(o.font.bold() || index.data(LogModel::GroupRole).isValid());
    const QString below = index.data(LogModel::BelowRole).toString();
    if (below.isEmpty()) {
        o.widget->style()->drawControl(QStyle::CE_ItemViewItem, &o, p, o.widget);
        return;
    }
    const QString words = o.text;
    o.text.clear();
    o.widget->style()->drawControl(QStyle::CE_ItemViewItem, &o, p, o.widget);
    const QRect box = o.rect.adjusted(4, 3, -4, -3);
    const bool chosen = o.state & QStyle::State_Selected;
    const int half = box.height() / 2;
    p->save();
    p->setFont(o.font);
    p->setPen(chosen ? o.palette.color(QPalette::HighlightedText) : Theme::current().ink);
    p->drawText(QRect(box.left(), box.top(), box.width(), half), Qt::AlignVCenter | Qt::TextSingleLine,
                o.fontMetrics.elidedText(words, Qt::ElideRight, box.width()));
    QFont small = o.font;
    small.setPointSizeF(small.pointSizeF() * 0.88);
    p->setFont(small);
    if (!chosen)
        p->setPen(Theme::current().muted);
    p->drawText(QRect(box.left(), box.top() + half, box.width(), half), Qt::AlignVCenter | Qt::TextSingleLine,
                QFontMetrics(small).elidedText(below, Qt::ElideRight, box.width()));
    p->restore();
}

} // namespace hobble
