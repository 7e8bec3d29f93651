#pragma once
// What Intake found, as rows: the failing checks, worst first, then one row that says how many passed, and,
// unfolded, each of those.
#include "app/session/build_desk.h"

#include <QAbstractListModel>

namespace hobble {

class CheckModel : public QAbstractListModel {
    Q_OBJECT
public:
    enum Role { KindRole = Qt::UserRole, SeverityRole, AdviceRole, CheckRole, DefectRole };
    enum class Kind { Failing, Fold, Passed };

    explicit CheckModel(BuildDesk* build, LogDesk* log, QObject* parent = nullptr);

    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role = Qt::DisplayRole) const override;

    Kind kindOf(int row) const;
    int failing() const { return failing_; }
    bool unfolded() const { return unfolded_; }
    void setUnfolded(bool on);

private:
    void refresh();
    BuildDesk* build_;
    LogDesk* log_;
    int failing_ = 0;
    bool unfolded_ = false;
    QStringList passed_;
};

} // namespace hobble
