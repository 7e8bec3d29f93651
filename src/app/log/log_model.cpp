#include "app/log/log_model.h"

#include <QJsonDocument>
#include <QJsonObject>

namespace hobble {

LogModel::LogModel(Session* session, QObject* parent) : QAbstractTableModel(parent), session_(session) {
    connect(session, &Session::logChanged, this, &LogModel::refresh);
    refresh();
}

void LogModel::refresh() {
    // Defects are never removed, so changes keep the selection and the scroll where they are.
    const QVector<Defect> next = session_->defects();
    const bool same = next.size() >= rows_.size() &&
                      std::equal(rows_.begin(), rows_.end(), next.begin(),
                                 [](const Defect& a, const Defect& b) { return a.id == b.id; });
    if (!same) {
        beginResetModel();
        rows_ = next;
        endResetModel();
        return;
    }
    const int before = static_cast<int>(rows_.size()), after = static_cast<int>(next.size());
    if (after > before)
        beginInsertRows({}, before, after - 1);
    rows_ = next;
    if (after > before)
        endInsertRows();
    if (before > 0)
        emit dataChanged(index(0, 0), index(before - 1, ColumnCount - 1));
}

int LogModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}
int LogModel::columnCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : ColumnCount; }

QVariant LogModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= rows_.size())
        return {};
    const Defect& d = rows_[index.row()];
    if (role == IdRole)
        return d.id;
    if (role == SortRole)
        switch (index.column()) {
        case Number:
            return d.id;
        case Angle:
            return d.facts.degrees;
        case Severity:
            return d.severity;
        case BuildColumn:
            return d.build.number;
        default:
            return data(index, Qt::DisplayRole);
        }
    if (role == Qt::TextAlignmentRole && index.column() == Number)
        return QVariant(Qt::AlignRight | Qt::AlignVCenter);
    if (role == Qt::ToolTipRole)
        return d.facts.what;
    if (role != Qt::DisplayRole && role != Qt::AccessibleTextRole)
        return {};
    switch (index.column()) {
    case Number:
        return d.id;
    case What: {
        const int cut = static_cast<int>(d.facts.what.lastIndexOf(QStringLiteral(" in ")));
        return cut > 0 && !d.facts.motionName.isEmpty() ? d.facts.what.left(cut) : d.facts.what;
    }
    case Angle:
        if (d.facts.motionName.isEmpty()) // found by Intake, before any pose
            return tr("neutral");
        {
            const QString at =
                QJsonDocument::fromJson(d.facts.pose).object().value(QStringLiteral("at")).toString();
            return tr("%1, %2").arg(d.facts.motionName,
                                    at.isEmpty() ? tr("%1°").arg(d.facts.degrees, 0, 'f', 0) : at);
        }
    case Severity:
        return d.severity;
    case Assignee:
        return d.assignee.isEmpty() ? tr("nobody yet") : d.assignee;
    case BuildColumn:
        return tr("build %1").arg(d.build.number);
    case Status:
        return d.status;
    }
    return {};
}

QVariant LogModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation != Qt::Horizontal || role != Qt::DisplayRole)
        return {};
    switch (section) {
    case What:
        return tr("What");
    case Angle:
        return tr("When");
    case Severity:
        return tr("How bad");
    case Assignee:
        return tr("Who");
    case BuildColumn:
        return tr("Since");
    case Status:
        return tr("State");
    default:
        return QString();
    }
}

QModelIndex LogModel::indexOf(qint64 id) const {
    for (int r = 0; r < rows_.size(); ++r)
        if (rows_[r].id == id)
            return index(r, 0);
    return {};
}

} // namespace hobble
