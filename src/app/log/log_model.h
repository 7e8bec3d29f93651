#pragma once
// The log as a table that reads like sentences: what, at which angle, how bad, who, since which build, state.
#include "app/session/session.h"

#include <QAbstractTableModel>

namespace hobble {

class LogModel : public QAbstractTableModel {
    Q_OBJECT
public:
    enum Column { Number, What, Angle, Severity, Assignee, BuildColumn, Status, ColumnCount };
    enum Role { IdRole = Qt::UserRole + 1, SortRole };

    explicit LogModel(Session* session, QObject* parent = nullptr);
    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    QModelIndex indexOf(qint64 id) const;

private:
    void refresh();
    Session* session_;
    QVector<Defect> rows_;
};

} // namespace hobble
