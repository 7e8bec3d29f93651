#include "app/intake/joint_model.h"
#include "app/words.h"

#include "core/character/hand.h"
#include <algorithm>

namespace hobble {

namespace {

constexpr float kSure = 0.8f;

bool unknownRole(const JointRole& r) { return r.role == Role::Unknown && r.movesSkin; }
bool unsureRole(const JointRole& r) {
    return r.movesSkin && (r.role == Role::Unknown || r.confidence < kSure);
}

} // namespace

JointModel::JointModel(BuildDesk* build, QObject* parent) : QAbstractTableModel(parent), build_(build) {
    connect(build_, &BuildDesk::intakeChanged, this, &JointModel::refresh);
    refresh();
}

void JointModel::refresh() {
    beginResetModel();
    rows_.clear();
    if (const auto s = build_->buildSubject())
        for (int j = 0; j < s->character->skeleton.size(); ++j)
            if (!unsureOnly_ || unsureRole(s->roles[static_cast<std::size_t>(j)]))
                rows_.push_back(j);
    endResetModel();
}

void JointModel::setUnsureOnly(bool on) {
    unsureOnly_ = on;
    refresh();
}

int JointModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

int JointModel::rowOf(int joint) const {
    const auto it = std::find(rows_.begin(), rows_.end(), joint);
    return it == rows_.end() ? -1 : static_cast<int>(it - rows_.begin());
}

int JointModel::unknown() const {
    const auto s = build_->buildSubject();
    return s ? static_cast<int>(std::count_if(s->roles.begin(), s->roles.end(), unknownRole)) : 0;
}

int JointModel::unsure() const {
    const auto s = build_->buildSubject();
    return s ? static_cast<int>(std::count_if(s->roles.begin(), s->roles.end(), unsureRole)) : 0;
}

QVariant JointModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation != Qt::Horizontal || role != Qt::DisplayRole)
        return {};
    return QStringList{tr("joint"), tr("is"), tr("side"), tr("sure")}.value(section);
}

QVariant JointModel::data(const QModelIndex& at, int role) const {
    const auto s = build_->buildSubject();
    if (!at.isValid() || !s || at.row() >= rowCount())
        return {};
    const int j = rows_[static_cast<std::size_t>(at.row())];
    const JointRole& r = s->roles[static_cast<std::size_t>(j)];
    if (role == Qt::TextAlignmentRole && at.column() == Sure)
        return int(Qt::AlignRight | Qt::AlignVCenter);
    if (role == Qt::ToolTipRole)
        return *r.basis ? tr("%1, by %2")
                              .arg(QString::fromStdString(
                                       s->character->skeleton.name[static_cast<std::size_t>(j)]),
                                   QLatin1String(r.basis))
                        : QString::fromStdString(s->character->skeleton.name[static_cast<std::size_t>(j)]);
    if (role != Qt::DisplayRole)
        return {};
    switch (at.column()) {
    case Name:
        return QString::fromStdString(s->character->skeleton.name[static_cast<std::size_t>(j)]);
    case RoleColumn:
        return r.role == Role::Unknown ? tr("not known")
               : r.role == Role::Finger
                   ? tr("%1 finger").arg(inWords(digitName(std::max(r.digit, 0)).c_str()))
                   : inWords(nameOf(r.role));
    case SideColumn:
        return r.side == Side::Middle ? QString() : inWords(nameOf(r.side));
    case Sure:
        return r.role == Role::Unknown ? QString() : tr("%1 %").arg(100 * double(r.confidence), 0, 'f', 0);
    }
    return {};
}

} // namespace hobble
