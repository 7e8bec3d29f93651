#pragma once
// The log as rows that read like sentences, in groups that fold: what, at which angle, how bad, who, since
// which build, and how it stands.
#include "app/session/log_desk.h"

#include <QAbstractItemModel>

namespace hobble {

class LogModel : public QAbstractItemModel {
    Q_OBJECT
public:
    enum Column { Number, What, Severity, Use, Who, State, ColumnCount };
    /// BelowRole: the quieter second line of a cell. GroupRole: how many are in the group.
    enum Role { IdRole = Qt::UserRole + 1, GroupRole, BelowRole };

    explicit LogModel(LogDesk* log, QObject* parent = nullptr);

    const DefectFilter& filter() const { return filter_; }
    void setFilter(const DefectFilter& filter);
    DefectGrouping grouping() const { return grouping_; }
    void setGrouping(DefectGrouping grouping);
    int shown() const; // defects

    QModelIndex index(int row, int column, const QModelIndex& parent = {}) const override;
    QModelIndex parent(const QModelIndex& index) const override;
    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    void sort(int column, Qt::SortOrder order) override;

    QModelIndex indexOf(qint64 id) const; // invalid where it is not shown
    bool isGroup(const QModelIndex& index) const;
    /// The defect before or after one, over the borders of groups; 0 at the end.
    qint64 beside(qint64 id, int by) const;

signals:
    void arranged(); // the rows are others, or in another order

private:
    void refresh();
    bool grouped() const { return grouping_ != DefectGrouping::None; }
    LogDesk* log_;
    DefectFilter filter_;
    DefectGrouping grouping_ = DefectGrouping::None;
    DefectOrder order_ = DefectOrder::Severity;
    bool descending_ = true;
    QVector<DefectGroup> groups_;
};

} // namespace hobble
