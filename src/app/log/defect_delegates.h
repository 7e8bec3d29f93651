#pragma once
// How the rows of the log are painted.
#include <QStyledItemDelegate>

namespace hobble {

/// A severity as its chip.
class SeverityDelegate : public QStyledItemDelegate {
    Q_OBJECT
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override;
};

/// Two lines where there is a second to say. All rows of one height, so that fifty thousand are laid out at
/// once.
class DefectRowDelegate : public QStyledItemDelegate {
    Q_OBJECT
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override;
    void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override;
};

} // namespace hobble
