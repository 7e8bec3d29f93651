#include "app/plan/plan_model.h"

#include "app/words.h"

#include <algorithm>

namespace hobble {

PlanModel::PlanModel(BuildDesk* build, PlanDesk* plan, QObject* parent)
    : QAbstractItemModel(parent), build_(build), plan_(plan) {
    connect(plan_, &PlanDesk::planChanged, this, &PlanModel::refresh);
    connect(build_, &BuildDesk::characterChanged, this, &PlanModel::refresh);
    refresh();
}

void PlanModel::refresh() {
    std::vector<std::string> ids;
    for (const Motion& m : plan_->plan().motions)
        ids.push_back(m.id);
    if (ids == shown_ && !ids.empty()) { // the same rows: what is open and chosen stays so
        for (std::size_t l = 0; l < limbs_.size(); ++l) {
            const QModelIndex limb = index(static_cast<int>(l), 0);
            emit dataChanged(limb, limb.siblingAtColumn(ColumnCount - 1));
            emit dataChanged(index(0, 0, limb),
                             index(static_cast<int>(limbs_[l].motions.size()) - 1, ColumnCount - 1, limb));
        }
        return;
    }
    beginResetModel();
    shown_ = std::move(ids);
    limbs_.clear();
    const auto& motions = plan_->plan().motions;
    for (std::size_t m = 0; m < motions.size(); ++m) {
        const Limb limb = motions[m].limb;
        auto known =
            std::find_if(limbs_.begin(), limbs_.end(), [&](const Group& g) { return g.limb == limb; });
        if (known == limbs_.end())
            known = limbs_.insert(limbs_.end(), Group{limb, {}});
        known->motions.push_back(static_cast<int>(m));
    }
    endResetModel();
}

QModelIndex PlanModel::index(int row, int column, const QModelIndex& parent) const {
    return hasIndex(row, column, parent)
               ? createIndex(row, column,
                             parent.isValid() ? static_cast<quintptr>(parent.row()) + 1 : quintptr(0))
               : QModelIndex();
}

QModelIndex PlanModel::parent(const QModelIndex& child) const {
    return child.isValid() && child.internalId() > 0
               ? createIndex(static_cast<int>(child.internalId()) - 1, 0, quintptr(0))
               : QModelIndex();
}

int PlanModel::rowCount(const QModelIndex& parent) const {
    if (!parent.isValid())
        return static_cast<int>(limbs_.size());
    if (parent.internalId() > 0 || parent.column() > 0)
        return 0;
    return static_cast<int>(limbs_[static_cast<std::size_t>(parent.row())].motions.size());
}

int PlanModel::columnCount(const QModelIndex&) const { return ColumnCount; }

int PlanModel::motionOf(const QModelIndex& at) const {
    if (!at.isValid() || at.internalId() == 0)
        return -1;
    return limbs_[at.internalId() - 1].motions[static_cast<std::size_t>(at.row())];
}

const Motion& PlanModel::motionAt(const QModelIndex& at) const {
    return plan_->plan().motions[static_cast<std::size_t>(motionOf(at))];
}

QModelIndex PlanModel::indexOf(int motion) const {
    for (std::size_t l = 0; l < limbs_.size(); ++l)
        for (std::size_t r = 0; r < limbs_[l].motions.size(); ++r)
            if (limbs_[l].motions[r] == motion)
                return createIndex(static_cast<int>(r), 0, static_cast<quintptr>(l) + 1);
    return {};
}

std::vector<std::string> PlanModel::motionsOf(const QModelIndex& at) const {
    if (!at.isValid())
        return {};
    if (at.internalId() > 0)
        return {motionAt(at).id};
    std::vector<std::string> out;
    for (int m : limbs_[static_cast<std::size_t>(at.row())].motions)
        out.push_back(plan_->plan().motions[static_cast<std::size_t>(m)].id);
    return out;
}

QVariant PlanModel::data(const QModelIndex& at, int role) const {
    if (!at.isValid())
        return {};
    if (at.internalId() == 0) {
        const Group& limb = limbs_[static_cast<std::size_t>(at.row())];
        std::size_t on = 0, poses = 0;
        for (int m : limb.motions) {
            const Motion& motion = plan_->plan().motions[static_cast<std::size_t>(m)];
            on += motion.on;
            poses += motion.on ? motion.steps.size() : 0;
        }
        if (role == Qt::DisplayRole)
            return at.column() == Name
                       ? QStringLiteral("%1  %2").arg(wordsFor(limb.limb)).arg(limb.motions.size())
                   : at.column() == Poses ? QVariant(static_cast<int>(poses))
                                          : QVariant();
        if (role == Qt::CheckStateRole && at.column() == Name)
            return on == 0 ? Qt::Unchecked : on == limb.motions.size() ? Qt::Checked : Qt::PartiallyChecked;
        if (role == Qt::TextAlignmentRole && at.column() == Poses)
            return QVariant(Qt::AlignRight | Qt::AlignVCenter);
        return {};
    }
    const Motion& m = motionAt(at);
    switch (role) {
    case Qt::DisplayRole:
        switch (at.column()) {
        case Name:
            return QString::fromStdString(wordsFor(m));
        case To:
            return m.span == Span::Frames
                       ? (m.frames.size() == 1 ? tr("one frame")
                                               : tr("%n frames", nullptr, int(m.frames.size())))
                       : QString::fromStdString(wordsFor(m, m.limit()));
        default:
            return static_cast<int>(m.steps.size());
        }
    case Qt::EditRole:
        return at.column() == To ? QVariant(QString::number(m.limit(), 'f', 0)) : QVariant(); // typed as text
    case Qt::CheckStateRole:
        return at.column() == Name ? QVariant(m.on ? Qt::Checked : Qt::Unchecked) : QVariant();
    case Qt::TextAlignmentRole:
        return at.column() == To || at.column() == Poses ? QVariant(Qt::AlignRight | Qt::AlignVCenter)
                                                         : QVariant();
    case Qt::ToolTipRole:
        return m.beyond.empty() ? QVariant(tr("%1: to %2, range from: %3")
                                               .arg(QString::fromStdString(wordsFor(m)),
                                                    QString::fromStdString(wordsFor(m, m.limit())),
                                                    QString::fromStdString(m.source)))
                                : QVariant(QString::fromStdString(m.beyond));
    default:
        return {};
    }
}

QVariant PlanModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation != Qt::Horizontal || role != Qt::DisplayRole)
        return {};
    return section == Name ? tr("motion") : section == To ? tr("to") : tr("poses");
}

bool PlanModel::setData(const QModelIndex& at, const QVariant& value, int role) {
    if (!at.isValid())
        return false;
    if (role == Qt::CheckStateRole && at.column() == Name) {
        const bool on = value.toInt() != Qt::Unchecked;
        std::vector<std::string> ids = motionsOf(at);
        if (at.internalId() > 0 && bothSides_) { // its fellow of the other side goes along
            const Motion m = motionAt(at);
            for (const Motion& o : plan_->plan().motions)
                if (o.name == m.name && o.limb == m.limb && o.side != m.side && o.side != Side::Middle &&
                    m.side != Side::Middle)
                    ids.push_back(o.id);
        }
        plan_->setOn(ids, on);
        return true;
    }
    if (role != Qt::EditRole || at.column() != To || at.internalId() == 0)
        return false;
    bool number = false;
    const double limit = value.toString()
                             .remove(QChar(0x00b0))
                             .replace(QLatin1Char(','), QLatin1Char('.'))
                             .trimmed()
                             .toDouble(&number);
    if (!number || limit < 1 || limit > 180)
        return false;
    plan_->setRange(motionAt(at).id, limit, bothSides_);
    return true;
}

Qt::ItemFlags PlanModel::flags(const QModelIndex& at) const {
    Qt::ItemFlags out = Qt::ItemIsEnabled | Qt::ItemIsSelectable;
    if (at.column() == Name)
        out |= Qt::ItemIsUserCheckable;
    if (at.column() == To && at.internalId() > 0 && motionAt(at).span == Span::Degrees)
        out |= Qt::ItemIsEditable;
    return out;
}

} // namespace hobble
