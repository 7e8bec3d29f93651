#include "app/intake/check_model.h"

#include <set>

namespace hobble {

CheckModel::CheckModel(BuildDesk* build, LogDesk* log, QObject* parent)
    : QAbstractListModel(parent), build_(build), log_(log) {
    connect(build_, &BuildDesk::intakeChanged, this, &CheckModel::refresh);
    connect(log_, &LogDesk::logChanged, this, [this] {
        if (failing_ > 0)
            emit dataChanged(index(0), index(failing_ - 1), {DefectRole});
    });
    refresh();
}

void CheckModel::refresh() {
    beginResetModel();
    passed_.clear();
    failing_ = static_cast<int>(build_->checks().size());
    if (build_->buildSubject()) {
        std::set<std::string> failed;
        for (const CheckFinding& f : build_->checks())
            failed.insert(f.check);
        for (const Check& c : intakeChecks())
            if (!failed.count(c.name))
                passed_ << QString::fromLatin1(c.passed);
    }
    endResetModel();
}

int CheckModel::rowCount(const QModelIndex& parent) const {
    if (parent.isValid() || !build_->buildSubject())
        return 0;
    return failing_ + (passed_.isEmpty() ? 0 : 1) + (unfolded_ ? static_cast<int>(passed_.size()) : 0);
}

CheckModel::Kind CheckModel::kindOf(int row) const {
    return row < failing_ ? Kind::Failing : row == failing_ ? Kind::Fold : Kind::Passed;
}

void CheckModel::setUnfolded(bool on) {
    if (on == unfolded_ || passed_.isEmpty())
        return;
    const int first = failing_ + 1, last = failing_ + static_cast<int>(passed_.size());
    if (on)
        beginInsertRows({}, first, last);
    else
        beginRemoveRows({}, first, last);
    unfolded_ = on;
    if (on)
        endInsertRows();
    else
        endRemoveRows();
    emit dataChanged(index(failing_), index(failing_));
}

QVariant CheckModel::data(const QModelIndex& at, int role) const {
    if (!at.isValid() || at.row() >= rowCount())
        return {};
    const Kind kind = kindOf(at.row());
    if (role == KindRole)
        return static_cast<int>(kind);
    if (kind == Kind::Fold)
        return role != Qt::DisplayRole && role != Qt::AccessibleTextRole ? QVariant()
               : passed_.size() == 1                                     ? tr("One check passed")
                                     : tr("%n checks passed", nullptr, int(passed_.size()));
    if (kind == Kind::Passed)
        return role == Qt::DisplayRole || role == Qt::AccessibleTextRole
                   ? QVariant(passed_[at.row() - failing_ - 1])
                   : QVariant();
    const CheckFinding& f = build_->checks()[static_cast<std::size_t>(at.row())];
    switch (role) {
    case Qt::DisplayRole:
        return QString::fromStdString(f.sentence);
    case Qt::AccessibleTextRole:
        return tr("Severity %1. %2").arg(f.severity).arg(QString::fromStdString(f.sentence));
    case SeverityRole:
        return f.severity;
    case AdviceRole:
        return QString::fromStdString(f.advice);
    case CheckRole:
        return QString::fromStdString(f.check);
    case DefectRole:
        return build_->defectOfCheck(at.row());
    }
    return {};
}

} // namespace hobble
