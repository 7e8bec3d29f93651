#pragma once
// The plan as a tree: limbs, and below each its motions with their range and their number of poses; a tip
// tells where the range comes from. A tick says whether it is tested; a range can be typed.
#include "app/session/plan_desk.h"

#include <QAbstractItemModel>

namespace hobble {

class PlanModel : public QAbstractItemModel {
    Q_OBJECT
public:
    enum Column { Name, To, Poses, ColumnCount };

    explicit PlanModel(BuildDesk* build, PlanDesk* plan, QObject* parent = nullptr);
    void setBothSides(bool on) { bothSides_ = on; }
    bool bothSides() const { return bothSides_; }
    int motionOf(const QModelIndex& at) const; // of the session's plan; −1 for a limb
    QModelIndex indexOf(int motion) const;
    std::vector<std::string> motionsOf(const QModelIndex& at) const; // ids: its own, or all of a limb

    QModelIndex index(int row, int column, const QModelIndex& parent = {}) const override;
    QModelIndex parent(const QModelIndex& child) const override;
    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& at, int role = Qt::DisplayRole) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    bool setData(const QModelIndex& at, const QVariant& value, int role) override;
    Qt::ItemFlags flags(const QModelIndex& at) const override;

private:
    struct Group {
        Limb limb = Limb::Other;
        std::vector<int> motions;
    };
    void refresh();
    const Motion& motionAt(const QModelIndex& at) const;

    BuildDesk* build_;
    PlanDesk* plan_;
    bool bothSides_ = true;
    std::vector<Group> limbs_;
    std::vector<std::string> shown_; // ids, to know whether the rows are still the same
};

} // namespace hobble
