#pragma once
// What each joint is taken for: name, role, side, and how sure that is.
#include "app/session/build_desk.h"

#include <QAbstractTableModel>

namespace hobble {

class JointModel : public QAbstractTableModel {
    Q_OBJECT
public:
    enum Column { Name, RoleColumn, SideColumn, Sure, Columns };

    explicit JointModel(BuildDesk* build, QObject* parent = nullptr);

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override { return parent.isValid() ? 0 : Columns; }
    QVariant data(const QModelIndex& index, int role = Qt::DisplayRole) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

    void setUnsureOnly(bool on);
    int jointOf(int row) const { return rows_[static_cast<std::size_t>(row)]; }
    int rowOf(int joint) const; // −1 where it is not shown
    int unknown() const;        // joints that carry skin and whose role is not known
    int unsure() const;

private:
    void refresh();
    BuildDesk* build_;
    std::vector<int> rows_; // joints
    bool unsureOnly_ = false;
};

} // namespace hobble
