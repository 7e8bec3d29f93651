#include "app/review/strip_model.h"

#include <algorithm>

namespace hobble {

namespace {

constexpr quintptr kGroup = ~quintptr(0);

StripCurve curveOf(const Session& session, int motion, const std::optional<Kind>& only) {
    const Motion& m = session.plan().motions[motion];
    StripCurve c;
    c.motion = motion;
    c.limit = m.limit();
    const auto run = session.run();
    if (!run || run->motions[motion].steps.empty())
        return c;
    const auto& steps = run->motions[motion].steps;
    for (std::size_t i = 0; i + 1 < steps.size(); ++i) { // the last step is neutral again
        double most = 0;
        int severity = 0;
        for (const JointStep& j : steps[i].joints) {
            const Role role = session.subject()->roles[j.joint].role;
            for (Kind k : kKinds)
                if (const auto v = valueOf(k, j.measures); v && (!only || k == *only)) {
                    most = std::max(most, troubleOf(k, *v, run->limits.of(k, role)));
                    severity = std::max(severity, severityOf(k, *v, run->limits.of(k, role)));
                }
        }
        if (c.onset < 0 && most > 1) {
            const double before = c.trouble.empty() ? 0 : c.trouble.back();
            const double from = c.degrees.empty() ? 0 : c.degrees.back();
            c.onset = from + (steps[i].degrees - from) * (1 - before) / std::max(most - before, 1e-9);
        }
        if (most > c.worst) {
            c.worst = most;
            if (most > 1)
                c.peak = steps[i].degrees;
        }
        c.severity = std::max(c.severity, severity);
        c.degrees.push_back(steps[i].degrees);
        c.trouble.push_back(most);
    }
    return c;
}

double troubleAt(const StripCurve& c, double degrees) {
    for (std::size_t i = 1; i < c.degrees.size(); ++i)
        if (degrees <= c.degrees[i]) {
            const double t = (degrees - c.degrees[i - 1]) / std::max(c.degrees[i] - c.degrees[i - 1], 1e-9);
            return c.trouble[i - 1] + t * (c.trouble[i] - c.trouble[i - 1]);
        }
    return c.trouble.empty() ? 0 : c.trouble.back();
}

// Over the share of their own ranges, the worst of several curves; it stands for the member that is worst of
// all.
void widen(StripCurve& summary, const StripCurve& member) {
    if (member.motion < 0)
        return;
    if (summary.degrees.empty())
        for (int k = 0; k <= 20; ++k) {
            summary.degrees.push_back(k * 5.0);
            summary.trouble.push_back(0);
        }
    for (int k = 0; k <= 20; ++k)
        summary.trouble[k] = std::max(summary.trouble[k], troubleAt(member, member.limit * k / 20));
    summary.limit = 100;
    summary.severity = std::max(summary.severity, member.severity);
    if (member.worst >= summary.worst || summary.motion < 0) {
        summary.worst = member.worst;
        summary.motion = member.motion;
        summary.peak = member.peak < 0 ? -1 : 100 * member.peak / member.limit;
    }
}

} // namespace

StripModel::StripModel(Session* session, QObject* parent) : QAbstractItemModel(parent), session_(session) {
    connect(session, &Session::runChanged, this, &StripModel::rebuild);
    rebuild();
}

void StripModel::setFilter(const StripFilter& filter) {
    filter_ = filter;
    rebuild();
}

void StripModel::setWorstFirst(bool on) {
    worstFirst_ = on;
    rebuild();
}

void StripModel::rebuild() {
    beginResetModel();
    groups_.clear();
    const auto& motions = session_->plan().motions;
    for (int m = 0; m < static_cast<int>(motions.size()); ++m) {
        const QString limb = QString::fromStdString(motions[m].limb),
                      name = QString::fromStdString(motions[m].name);
        auto group =
            std::find_if(groups_.begin(), groups_.end(), [&](const Group& g) { return g.name == limb; });
        if (group == groups_.end()) {
            groups_.push_back({limb, {}, {}});
            group = std::prev(groups_.end());
            group->summary.name = limb;
        }
        // The other side of a row already there, unless that half is taken.
        const Side side = motions[m].side;
        auto row = std::find_if(group->rows.begin(), group->rows.end(), [&](const StripRow& r) {
            return r.name == name && side != Side::Middle && r.single.motion < 0 &&
                   (side == Side::Left ? r.left.motion : r.right.motion) < 0;
        });
        if (row == group->rows.end()) {
            group->rows.push_back({name, {}, {}, {}});
            row = std::prev(group->rows.end());
        }
        StripCurve& half = side == Side::Left ? row->left : side == Side::Right ? row->right : row->single;
        half = curveOf(*session_, m, filter_.kind);
    }
    if (filter_.severity > 0) {
        for (Group& g : groups_)
            std::erase_if(g.rows, [&](const StripRow& r) {
                return std::max({r.left.severity, r.right.severity, r.single.severity}) < filter_.severity;
            });
        std::erase_if(groups_, [](const Group& g) { return g.rows.empty(); });
    }
    for (Group& g : groups_) {
        for (const StripRow& r : g.rows) {
            const bool sided = r.single.motion < 0;
            widen(sided ? g.summary.left : g.summary.single, sided ? r.left : r.single);
            if (sided)
                widen(g.summary.right, r.right);
        }
        if (g.summary.left.motion >= 0 ||
            g.summary.right.motion >= 0) { // a mixed group is shown by its sides
            widen(g.summary.left, g.summary.single);
            widen(g.summary.right, g.summary.single);
            g.summary.single = {};
        }
        if (worstFirst_)
            std::stable_sort(g.rows.begin(), g.rows.end(),
                             [](const StripRow& a, const StripRow& b) { return a.worst() > b.worst(); });
    }
    if (worstFirst_)
        std::stable_sort(groups_.begin(), groups_.end(), [](const Group& a, const Group& b) {
            return a.summary.worst() > b.summary.worst();
        });
    endResetModel();
}

QModelIndex StripModel::index(int r, int column, const QModelIndex& parentIndex) const {
    if (column != 0 || r < 0 || r >= rowCount(parentIndex))
        return {};
    return createIndex(r, 0, parentIndex.isValid() ? quintptr(parentIndex.row()) : kGroup);
}

QModelIndex StripModel::parent(const QModelIndex& index) const {
    if (!index.isValid() || index.internalId() == kGroup)
        return {};
    return createIndex(static_cast<int>(index.internalId()), 0, kGroup);
}

int StripModel::rowCount(const QModelIndex& parentIndex) const {
    if (!parentIndex.isValid())
        return static_cast<int>(groups_.size());
    if (parentIndex.internalId() != kGroup)
        return 0;
    return static_cast<int>(groups_[parentIndex.row()].rows.size());
}

const StripRow& StripModel::row(const QModelIndex& index) const {
    return isGroup(index) ? groups_[index.row()].summary
                          : groups_[static_cast<std::size_t>(index.internalId())].rows[index.row()];
}

QModelIndex StripModel::indexOf(int motion) const {
    for (int g = 0; g < rowCount(); ++g)
        for (int r = 0; r < static_cast<int>(groups_[g].rows.size()); ++r) {
            const StripRow& s = groups_[g].rows[r];
            if (s.left.motion == motion || s.right.motion == motion || s.single.motion == motion)
                return index(r, 0, index(g, 0));
        }
    return {};
}

QVariant StripModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid())
        return {};
    const StripRow& r = row(index);
    if (role == Qt::DisplayRole)
        return r.name;
    if (role == WorstRole)
        return r.worst();
    if (role == SentenceRole || role == Qt::AccessibleTextRole) {
        auto say = [](const StripCurve& c, const QString& side) {
            if (c.motion < 0)
                return QString();
            const QString who = side.isEmpty() ? QString() : side + QLatin1Char(' ');
            return c.trouble.empty() ? QString()
                   : c.onset < 0     ? QObject::tr("%1within limits to %2°").arg(who).arg(c.limit, 0, 'f', 0)
                                     : QObject::tr("%1starts at %2°, worst at %3°")
                                       .arg(who)
                                       .arg(c.onset, 0, 'f', 0)
                                       .arg(c.peak, 0, 'f', 0);
        };
        QStringList parts{say(r.left, tr("left")), say(r.right, tr("right")), say(r.single, {})};
        parts.removeAll(QString());
        return QStringLiteral("%1: %2").arg(r.name, parts.join(QStringLiteral("; ")));
    }
    return {};
}

} // namespace hobble
