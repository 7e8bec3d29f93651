#include "app/log/workload_view.h"

#include "app/theme.h"
#include "app/widgets/parts.h"
#include "log/workload.h"

#include <QHeaderView>
#include <QLabel>
#include <QPainter>
#include <QStyledItemDelegate>
#include <QTableWidget>
#include <QVBoxLayout>

namespace hobble {

namespace {

struct Column {
    enum { Who, Bar, Four, Three, Two, One, ToCheck, Oldest, ToClose, Columns };
};

// What waits, as a bar as long as it is much, the worst first and darkest.
class BarDelegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        QStyleOptionViewItem o = option;
        initStyleOption(&o, index);
        o.text.clear();
        o.widget->style()->drawControl(QStyle::CE_ItemViewItem, &o, p, o.widget);
        const QVariantList counts = index.data(Qt::UserRole).toList();
        const double most = std::max(1.0, index.data(Qt::UserRole + 1).toDouble());
        double x = o.rect.left() + 8;
        const double room = o.rect.width() - 16;
        for (int s = 4; s >= 1; --s) {
            const double w = room * counts.value(s).toDouble() / most;
            p->fillRect(QRectF(x, o.rect.center().y() - 5, w, 10),
                        depthRamp()[static_cast<std::size_t>(s - 1)]);
            x += w;
        }
    }
};

} // namespace

WorkloadView::WorkloadView(LogDesk* log, QWidget* parent) : QWidget(parent), log_(log) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    words_ = new QLabel;
    words_->setWordWrap(true);
    words_->setProperty("quiet", true);
    all->addWidget(words_);
    table_ = tableOfLines(QStringLiteral("workload"), tr("Who has how much to do"),
                          {tr("Who"), tr("To do"), tr("4"), tr("3"), tr("2"), tr("1"), tr("to check"),
                           tr("oldest"), tr("to close")},
                          Column::Bar, Column::Four, Column::Columns - 1);
    table_->verticalHeader()->setDefaultSectionSize(px(32));
    table_->setItemDelegateForColumn(Column::Bar, new BarDelegate(table_));
    all->addWidget(table_, 1);
    connect(table_, &QTableWidget::itemActivated, this, [this](QTableWidgetItem* item) {
        emit personChosen(table_->item(item->row(), Column::Who)->data(Qt::UserRole).toString());
    });
    connect(log_, &LogDesk::logChanged, this, [this] {
        if (isVisible())
            refresh();
    });
}

void WorkloadView::showEvent(QShowEvent*) { refresh(); }

// At large text the numbers stay, and what is only a picture of them goes.
void WorkloadView::resizeEvent(QResizeEvent* e) {
    QWidget::resizeEvent(e);
    const bool narrow = width() < px(620), tight = width() < px(470);
    table_->setColumnHidden(Column::Bar, narrow);
    table_->setColumnHidden(Column::ToClose, narrow);
    table_->setColumnHidden(Column::Oldest, tight);
    table_->horizontalHeader()->setSectionResizeMode(Column::Who, narrow ? QHeaderView::Stretch
                                                                         : QHeaderView::ResizeToContents);
}

void WorkloadView::refresh() {
    const auto loads = workload(log_->defects(), log_->people(), QDateTime::currentDateTime());
    int most = 1, gone = 0, nobody = 0;
    for (const Load& l : loads) {
        most = std::max(most, l.waiting);
        gone += !l.onRoster ? l.waiting + l.toBeChecked : 0;
        nobody += l.person.isEmpty() ? l.waiting : 0;
    }
    QStringList said;
    if (nobody)
        said << tr("%1 that nobody has yet").arg(nobody);
    if (gone)
        said << tr("%1 of people who have left").arg(gone);
    words_->setText(
        said.isEmpty()
            ? tr("Enter on a person shows what is theirs.")
            : tr("To be given: %1. Enter on a line shows them.").arg(said.join(QStringLiteral(", "))));
    table_->setRowCount(static_cast<int>(loads.size()));
    for (int r = 0; r < loads.size(); ++r) {
        const Load& l = loads[r];
        const auto cell = [&](int column, const QString& words, bool number = true) {
            auto* item = new QTableWidgetItem(words);
            if (number)
                item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            table_->setItem(r, column, item);
            return item;
        };
        const auto count = [](int n) { return n ? QString::number(n) : QString(); };
        cell(Column::Who,
             l.person.isEmpty() ? tr("nobody yet")
             : l.onRoster       ? l.person
                                : tr("%1 (has left)").arg(l.person),
             false)
            ->setData(Qt::UserRole, l.person);
        auto* bar = cell(Column::Bar, {}, false);
        QVariantList counts;
        for (int n : l.bySeverity)
            counts << n;
        bar->setData(Qt::UserRole, counts);
        bar->setData(Qt::UserRole + 1, most);
        bar->setData(Qt::AccessibleTextRole, tr("%1 to do").arg(l.waiting));
        bar->setToolTip(tr("%1 to do").arg(l.waiting));
        for (int s = 1; s <= 4; ++s)
            cell(Column::Four + 4 - s, count(l.bySeverity[static_cast<std::size_t>(s)]));
        cell(Column::ToCheck, count(l.toBeChecked));
        cell(Column::Oldest, l.waiting || l.toBeChecked ? tr("%L1 days").arg(l.oldestDays) : QString());
        cell(Column::ToClose,
             l.meanDaysToClose >= 0.05 ? tr("%L1 days").arg(l.meanDaysToClose, 0, 'f', 1) : QString());
    }
}

} // namespace hobble
