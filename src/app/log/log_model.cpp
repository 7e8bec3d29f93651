#include "app/log/log_model.h"
#include "app/words.h"

#include "log/defect_use.h"

namespace hobble {

namespace {
constexpr quintptr kGroup = 0; // of an index: a group; else the group it is in, from 1
}

LogModel::LogModel(LogDesk* log, QObject* parent) : QAbstractItemModel(parent), log_(log) {
    filter_.states = openStates();
    connect(log_, &LogDesk::logChanged, this, &LogModel::refresh);
    refresh();
}

void LogModel::setFilter(const DefectFilter& filter) {
    if (filter == filter_)
        return;
    filter_ = filter;
    refresh();
}

void LogModel::setGrouping(DefectGrouping grouping) {
    if (grouping == grouping_)
        return;
    beginResetModel(); // flat and grouped rows must never be taken for each other
    groups_.clear();
    grouping_ = grouping;
    endResetModel();
    refresh();
}

void LogModel::refresh() {
    auto next = log_->list().arranged(filter_, grouping_, order_, descending_);
    const bool same =
        next.size() == groups_.size() &&
        std::equal(next.begin(), next.end(), groups_.begin(), [](const DefectGroup& a, const DefectGroup& b) {
            return a.title == b.title && a.rows == b.rows;
        });
    if (same) { // only what they say may be new: the selection and the scroll stay
        for (int g = 0; g < groups_.size(); ++g) {
            groups_[g].worst = next[g].worst;
            const QModelIndex group = grouped() ? index(g, 0) : QModelIndex();
            if (!groups_[g].rows.isEmpty())
                emit dataChanged(index(0, 0, group),
                                 index(static_cast<int>(groups_[g].rows.size()) - 1, ColumnCount - 1, group));
        }
        return;
    }
    beginResetModel();
    groups_ = std::move(next);
    endResetModel();
    emit arranged();
}

void LogModel::sort(int column, Qt::SortOrder order) {
    static const DefectOrder orders[] = {DefectOrder::Number, DefectOrder::What, DefectOrder::Severity,
                                         DefectOrder::Use,    DefectOrder::Who,  DefectOrder::State};
    if (column < 0 || column >= ColumnCount)
        return;
    order_ = orders[column];
    descending_ = order == Qt::DescendingOrder;
    refresh();
}

int LogModel::shown() const {
    int n = 0;
    for (const DefectGroup& g : groups_)
        n += static_cast<int>(g.rows.size());
    return n;
}

QModelIndex LogModel::index(int row, int column, const QModelIndex& parent) const {
    if (row < 0 || column < 0 || column >= ColumnCount || row >= rowCount(parent))
        return {};
    if (!grouped())
        return createIndex(row, column, quintptr(1));
    return parent.isValid() ? createIndex(row, column, quintptr(parent.row() + 1))
                            : createIndex(row, column, kGroup);
}

QModelIndex LogModel::parent(const QModelIndex& index) const {
    if (!index.isValid() || !grouped() || index.internalId() == kGroup)
        return {};
    return createIndex(static_cast<int>(index.internalId()) - 1, 0, kGroup);
}

bool LogModel::isGroup(const QModelIndex& index) const {
    return index.isValid() && grouped() && index.internalId() == kGroup;
}

int LogModel::rowCount(const QModelIndex& parent) const {
    if (!grouped())
        return parent.isValid() || groups_.isEmpty() ? 0 : static_cast<int>(groups_.front().rows.size());
    if (!parent.isValid())
        return static_cast<int>(groups_.size());
    return isGroup(parent) && parent.column() == 0 ? static_cast<int>(groups_[parent.row()].rows.size()) : 0;
}

int LogModel::columnCount(const QModelIndex&) const { return ColumnCount; }

QVariant LogModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid())
        return {};
    if (isGroup(index)) {
        const DefectGroup& g = groups_[index.row()];
        if (role == GroupRole)
            return g.rows.size();
        if (index.column() == 0 && (role == Qt::DisplayRole || role == Qt::AccessibleTextRole))
            return tr("%1    %2, worst %3").arg(g.title).arg(g.rows.size()).arg(g.worst);
        return {};
    }
    const DefectGroup& g = groups_[grouped() ? static_cast<int>(index.internalId()) - 1 : 0];
    const Defect& d = log_->defects()[g.rows[index.row()]];
    if (role == IdRole)
        return d.id;
    if (role == Qt::TextAlignmentRole && index.column() == Number)
        return QVariant(Qt::AlignRight | Qt::AlignVCenter);
    if (role == Qt::ToolTipRole)
        return index.column() == Use && d.use ? tr("Past where it begins %1").arg(useWords(*d.use))
                                              : d.facts.what;
    if (role == BelowRole) {
        if (index.column() == What) {
            QString name = d.build.character;
            return tr("%1 · %2, since build %3")
                .arg(whenWords(d.facts), name.replace(QLatin1Char('-'), QLatin1Char(' ')))
                .arg(d.build.number);
        }
        if (index.column() == State)
            return d.due.isEmpty() || !isOpen(d.state) ? QString() : tr("due in %1").arg(d.due);
        return {};
    }
    if (role == Qt::AccessibleTextRole && (index.column() == What || index.column() == State))
        return tr("%1. %2").arg(data(index, Qt::DisplayRole).toString(), data(index, BelowRole).toString());
    if (role != Qt::DisplayRole && role != Qt::AccessibleTextRole)
        return {};
    switch (index.column()) {
    case Number:
        return d.id;
    case What:
        return whatWords(d.facts);
    case Severity:
        return d.severity;
    case Use:
        return !d.use               ? QString()
               : d.use->frames == 0 ? tr("never")
               : d.use->frames == 1 ? tr("one frame")
                                    : tr("%n frames", nullptr, int(d.use->frames));
    case Who:
        return d.assignee.isEmpty() ? tr("nobody yet") : d.assignee;
    case State:
        return inWords(nameOf(d.state));
    }
    return {};
}

QVariant LogModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation != Qt::Horizontal || role != Qt::DisplayRole)
        return {};
    switch (section) {
    case Number:
        return tr("No.");
    case What:
        return tr("What");
    case Severity:
        return tr("How bad");
    case Use:
        return tr("The show");
    case Who:
        return tr("Who");
    case State:
        return tr("State");
    default:
        return QString();
    }
}

QModelIndex LogModel::indexOf(qint64 id) const {
    const int place = log_->list().placeOf(id);
    if (place < 0)
        return {};
    for (int g = 0; g < groups_.size(); ++g)
        if (const auto row = groups_[g].rows.indexOf(place); row >= 0)
            return index(static_cast<int>(row), 0, grouped() ? index(g, 0) : QModelIndex());
    return {};
}

qint64 LogModel::beside(qint64 id, int by) const {
    QVector<int> all;
    for (const DefectGroup& g : groups_)
        all += g.rows;
    if (all.isEmpty())
        return 0;
    const auto at = all.indexOf(log_->list().placeOf(id));
    const auto to = at < 0 ? 0 : at + by;
    return to >= 0 && to < all.size() ? log_->defects()[all[to]].id : 0;
}

} // namespace hobble
