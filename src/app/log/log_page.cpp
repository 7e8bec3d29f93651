#include "app/log/log_page.h"

#include "app/log/roster_dialog.h"
#include "app/theme.h"
#include "app/widgets/severity_chip.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QSortFilterProxyModel>
#include <QSplitter>
#include <QStyledItemDelegate>
#include <QTableView>
#include <QVBoxLayout>

namespace hobble {

namespace {

class ChipDelegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        QStyleOptionViewItem o = option;
        initStyleOption(&o, index);
        o.text.clear();
        o.widget->style()->drawControl(QStyle::CE_ItemViewItem, &o, p, o.widget);
        paintSeverity(*p, QRectF(o.rect.left() + 8, o.rect.center().y() - 11, 22, 22), index.data().toInt());
    }
};

/// Hides what is closed unless asked for, and what the search words do not meet.
class LogFilter : public QSortFilterProxyModel {
public:
    using QSortFilterProxyModel::QSortFilterProxyModel;
    void setClosedShown(bool on) {
        closed_ = on;
        invalidateFilter();
    }
    void setWords(const QString& words) {
        words_ = words.simplified().split(QLatin1Char(' '), Qt::SkipEmptyParts);
        invalidateFilter();
    }

protected:
    bool filterAcceptsRow(int row, const QModelIndex& parent) const override {
        QString all;
        for (int c = 0; c < sourceModel()->columnCount(); ++c)
            all += sourceModel()->index(row, c, parent).data().toString() + QLatin1Char(' ');
        const QString status = sourceModel()->index(row, LogModel::Status, parent).data().toString();
        if (status == QLatin1String("withdrawn") ||
            (!closed_ && (status == QLatin1String("dismissed") || status == QLatin1String("accepted"))))
            return false;
        return std::all_of(words_.begin(), words_.end(),
                           [&](const QString& w) { return all.contains(w, Qt::CaseInsensitive); });
    }

private:
    bool closed_ = true;
    QStringList words_;
};

} // namespace

LogPage::LogPage(Session* session, QWidget* parent) : QWidget(parent), session_(session) {
    setAccessibleName(tr("Log"));
    model_ = new LogModel(session, this);
    auto* filter = new LogFilter(this);
    sorted_ = filter;
    sorted_->setSourceModel(model_);
    sorted_->setSortRole(LogModel::SortRole);

    auto* left = new QWidget;
    auto* side = new QVBoxLayout(left);
    side->setContentsMargins(12, 8, 8, 0);
    auto* head = new QHBoxLayout;
    auto* search = new QLineEdit;
    search->setObjectName(QStringLiteral("logSearch"));
    search->setAccessibleName(tr("Find in the log"));
    search->setPlaceholderText(tr("Find in the log"));
    search->setClearButtonEnabled(true);
    auto* closed = new QCheckBox(tr("accepted and dismissed too"));
    closed->setChecked(true);
    head->addWidget(search, 1);
    head->addWidget(closed);
    side->addLayout(head);
    table_ = new QTableView;
    table_->setObjectName(QStringLiteral("logTable"));
    table_->setAccessibleName(tr("Defects"));
    table_->setModel(sorted_);
    table_->setSortingEnabled(true);
    table_->sortByColumn(LogModel::Severity, Qt::DescendingOrder);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setShowGrid(false);
    table_->setTabKeyNavigation(false);
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(34);
    table_->setItemDelegateForColumn(LogModel::Severity, new ChipDelegate(table_));
    auto* header = table_->horizontalHeader();
    header->setHighlightSections(false);
    header->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    header->setSectionResizeMode(QHeaderView::Interactive);
    header->setSectionResizeMode(LogModel::What, QHeaderView::Stretch);
    table_->setColumnWidth(LogModel::Number, 38);
    table_->setColumnWidth(LogModel::Angle, 150);
    table_->setColumnWidth(LogModel::Severity, 92);
    table_->setColumnWidth(LogModel::Assignee, 110);
    table_->setColumnWidth(LogModel::BuildColumn, 68);
    table_->setColumnWidth(LogModel::Status, 84);
    side->addWidget(table_, 1);
    auto* hint =
        new QLabel(tr("Nothing is logged yet. On the Review page, press “Log defect” on a finding, or L."));
    hint->setProperty("quiet", true);
    hint->setWordWrap(true);
    emptyHint_ = hint;
    side->addWidget(hint);

    panel_ = new DefectPanel(session);
    panel_->setMinimumWidth(320);
    auto* split = new QSplitter;
    split->setHandleWidth(1);
    split->setChildrenCollapsible(false);
    split->addWidget(left);
    split->addWidget(panel_);
    split->setStretchFactor(0, 1);
    split->setSizes({840, 440});
    auto* all = new QHBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->addWidget(split);

    connect(search, &QLineEdit::textChanged, this, [filter](const QString& t) { filter->setWords(t); });
    connect(closed, &QCheckBox::toggled, this, [filter](bool on) { filter->setClosedShown(on); });
    connect(table_->selectionModel(), &QItemSelectionModel::currentRowChanged, this,
            [this](const QModelIndex& now) {
                panel_->show(now.isValid() ? now.data(LogModel::IdRole).toLongLong() : 0);
            });
    connect(panel_, &DefectPanel::showInReview, this, &LogPage::showInReview);
    connect(table_, &QTableView::doubleClicked, this, [this] { emit showInReview(chosen()); });
    connect(panel_, &DefectPanel::rosterWanted, this, [this] {
        auto* dialog = new RosterDialog(session_, this);
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        dialog->open();
    });
    auto empties = [this] { emptyHint_->setVisible(session_->defects().isEmpty()); };
    connect(session, &Session::logChanged, this, empties);
    empties();
}

void LogPage::choose(qint64 id) {
    const QModelIndex at = sorted_->mapFromSource(model_->indexOf(id));
    if (at.isValid()) {
        table_->setCurrentIndex(at);
        table_->scrollTo(at);
    }
}

qint64 LogPage::chosen() const { return panel_->defect(); }

void LogPage::step(int by) {
    const int row = table_->currentIndex().isValid() ? table_->currentIndex().row() + by : 0;
    if (row >= 0 && row < sorted_->rowCount())
        table_->setCurrentIndex(sorted_->index(row, 0));
}

void LogPage::setSeverity(int severity) {
    if (chosen())
        session_->changeDefect(chosen(), QStringLiteral("severity"), QString::number(severity));
}

void LogPage::setStatus(const QString& status) {
    if (chosen())
        session_->changeDefect(chosen(), QStringLiteral("status"), status);
}

void LogPage::assign() {
    if (chosen())
        panel_->openAssignees();
}

} // namespace hobble
