#include "app/widgets/flow_layout.h"

#include <QWidget>

namespace hobble {

FlowLayout::~FlowLayout() { qDeleteAll(items_); }

QLayoutItem* FlowLayout::takeAt(int i) { return i >= 0 && i < items_.size() ? items_.takeAt(i) : nullptr; }

int FlowLayout::arrange(const QRect& rect, bool place) const {
    const QMargins m = contentsMargins();
    const QRect inner = rect.marginsRemoved(m);
    int x = inner.x(), y = inner.y(), line = 0;
    QList<std::pair<QLayoutItem*, QRect>> row; // of this line, to be centred in its height
    const auto finish = [&] {
        for (const auto& [item, where] : row)
            item->setGeometry(where.translated(0, (line - where.height()) / 2));
        row.clear();
    };
    for (QLayoutItem* item : items_) {
        if (item->isEmpty()) // hidden
            continue;
        QSize size = item->sizeHint();
        size.setWidth(std::min(size.width(), std::max(inner.width(), item->minimumSize().width())));
        if (x > inner.x() && x + size.width() > inner.right() + 1) {
            finish();
            x = inner.x();
            y += line + lineGap_;
            line = 0;
        }
        if (place)
            row.emplace_back(item, QRect(QPoint(x, y), size));
        x += size.width() + gap_;
        line = std::max(line, size.height());
    }
    finish();
    return y + line - rect.y() + m.bottom();
}

void FlowLayout::setGeometry(const QRect& rect) {
    QLayout::setGeometry(rect);
    arrange(rect, true);
}

QSize FlowLayout::sizeHint() const {
    int width = 0;
    for (QLayoutItem* item : items_)
        if (!item->isEmpty())
            width += item->sizeHint().width() + gap_;
    const QMargins m = contentsMargins();
    return {width + m.left() + m.right(), heightForWidth(width + m.left() + m.right())};
}

QSize FlowLayout::minimumSize() const {
    QSize least;
    for (QLayoutItem* item : items_)
        if (!item->isEmpty())
            least = least.expandedTo(item->minimumSize());
    const QMargins m = contentsMargins();
    return least + QSize(m.left() + m.right(), m.top() + m.bottom());
}

} // namespace hobble
