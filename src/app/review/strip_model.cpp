#include "app/review/strip_model.h"

#include "app/words.h"
#include "core/words/exposure_words.h"
#include "core/words/motion_words.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

constexpr quintptr kGroup = ~quintptr(0);
constexpr std::size_t kUseParts = 40; // of a motion's way, that use is told of

// Of a group: what each of its members is worst at.
void widen(StripCurve& summary, const StripCurve& member) {
    if (member.motion < 0)
        return;
    SharedCurve shared{summary, summary.motion};
    shared.add(member.motion, member.limit, member);
    static_cast<TroubleCurve&>(summary) = shared.curve;
    summary.motion = shared.worst;
    summary.limit = 100;
}

} // namespace

StripModel::StripModel(PlanDesk* plan, RunDesk* run, ExposureDesk* exposure, QObject* parent)
    : QAbstractItemModel(parent), plan_(plan), run_(run), exposure_(exposure) {
    connect(run_, &RunDesk::runChanged, this, &StripModel::rebuild);
    connect(run_, &RunDesk::motionMeasured, this, &StripModel::updateMotion);
    connect(exposure_, &ExposureDesk::exposureChanged, this, &StripModel::rebuild);
    rebuild();
}

StripCurve StripModel::curveOf(int motion) const {
    const Motion& m = *plan_->motion(motion);
    StripCurve c;
    c.motion = motion;
    c.limit = m.limit();
    c.unit = m.span == Span::Degrees   ? QStringLiteral("°")
             : m.span == Span::Percent ? QStringLiteral(" %")
                                       : QString();
    const auto& exposure = exposure_->exposure();
    const int used = exposure ? exposure->motionOf(m.id) : -1;
    if (const auto furthest = used < 0 ? std::nullopt : hobble::furthest(*exposure, used)) {
        c.use = useDensity(*exposure, used, c.limit, kUseParts);
        c.furthest = *furthest;
    }
    const MotionResult* result = run_->resultOf(motion);
    if (!result)
        return c;
    const auto& roles = run_->view().subject()->roles;
    static_cast<TroubleCurve&>(c) = troubleCurve(roles, *result, run_->limits(), filter_.kind);
    if (used >= 0 && c.onset >= 0)
        c.past = usePast(*exposure, used, c.onset);
    if (const auto* earlier = run_->earlier())
        if (const MotionResult* before = earlier->of(m)) {
            c.earlier = troubleCurve(roles, *before, run_->limits(), filter_.kind);
            c.change = changeSince(c.earlier, c);
        }
    if (const auto* good = run_->good(); good && filter_.good)
        if (const MotionResult* theirs = good->of(m))
            c.good = troubleCurve(good->curves.roles, *theirs, run_->limits(), filter_.kind);
    return c;
}

void StripModel::setFilter(const StripFilter& filter) {
    filter_ = filter;
    rebuild();
}

void StripModel::setOrder(StripOrder order) {
    order_ = order;
    rebuild();
    emit orderChanged();
}

void StripModel::rebuild() {
    beginResetModel();
    groups_.clear();
    const auto& motions = plan_->plan().motions;
    for (int m = 0; m < static_cast<int>(motions.size()); ++m) {
        if (!motions[static_cast<std::size_t>(m)].on)
            continue;
        const Limb limb = motions[m].limb;
        const QString name = QString::fromStdString(motionName(motions[m].name));
        auto group =
            std::find_if(groups_.begin(), groups_.end(), [&](const Group& g) { return g.limb == limb; });
        if (group == groups_.end()) {
            groups_.push_back({limb, {}, {}});
            group = std::prev(groups_.end());
            group->summary.name = wordsFor(limb);
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
        half = curveOf(m);
    }
    for (Group& g : groups_)
        std::erase_if(g.rows, [&](const StripRow& r) { return !passes(r); });
    std::erase_if(groups_, [](const Group& g) { return g.rows.empty(); });
    if (order_ != StripOrder::Body && !groups_.empty()) { // limbs would cut it
        Group all;
        for (Group& g : groups_)
            all.rows.insert(all.rows.end(), g.rows.begin(), g.rows.end());
        std::stable_sort(all.rows.begin(), all.rows.end(), [this](const StripRow& x, const StripRow& y) {
            if (order_ == StripOrder::MostUsedFirst && x.framesPast() != y.framesPast())
                return x.framesPast() > y.framesPast();
            return x.worst() > y.worst();
        });
        groups_.assign(1, std::move(all));
    }
    for (Group& g : groups_)
        summarise(g);
    endResetModel();
}

bool StripModel::passes(const StripRow& row) const {
    const StripCurve* curves[] = {&row.left, &row.right, &row.single};
    const auto any = [&](auto&& holds) {
        return std::any_of(std::begin(curves), std::end(curves),
                           [&](const StripCurve* c) { return c->motion >= 0 && holds(*c); });
    };
    if (filter_.severity > 0 && !any([&](const StripCurve& c) { return c.severity >= filter_.severity; }))
        return false;
    if (filter_.onlyChanged && !any([](const StripCurve& c) { return c.change != 0; }))
        return false;
    const auto reached = [](const StripCurve& c) { return c.past.frames > 0; };
    const auto never = [](const StripCurve& c) {
        return c.onset >= 0 && c.past.known() && c.past.frames == 0;
    };
    if ((filter_.reached == Reached::Yes && !any(reached)) ||
        (filter_.reached == Reached::Never && (any(reached) || !any(never))))
        return false;
    return filter_.joint < 0 || any([&](const StripCurve& c) {
               for (const JointTurn& t : plan_->plan().motions[static_cast<std::size_t>(c.motion)].turns)
                   if (t.joint == filter_.joint)
                       return true;
               return false;
           });
}

void StripModel::summarise(Group& g) {
    g.summary.left = g.summary.right = g.summary.single = {};
    for (const StripRow& r : g.rows) {
        const bool sided = r.single.motion < 0;
        widen(sided ? g.summary.left : g.summary.single, sided ? r.left : r.single);
        if (sided)
            widen(g.summary.right, r.right);
    }
    if (g.summary.left.motion >= 0 || g.summary.right.motion >= 0) { // a mixed group is shown by its sides
        widen(g.summary.left, g.summary.single);
        widen(g.summary.right, g.summary.single);
        g.summary.single = {};
    }
}

// A motion has come in while the run goes on: its row fills, nothing moves.
void StripModel::updateMotion(int motion) {
    const QModelIndex at = indexOf(motion);
    if (!at.isValid())
        return;
    Group& group = groups_[static_cast<std::size_t>(at.parent().row())];
    StripRow& shown = group.rows[static_cast<std::size_t>(at.row())];
    for (StripCurve* c : {&shown.left, &shown.right, &shown.single})
        if (c->motion == motion)
            *c = curveOf(motion);
    summarise(group);
    emit dataChanged(at, at);
    emit dataChanged(at.parent(), at.parent());
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
        auto say = [this](const StripCurve& c, const QString& side) {
            if (c.motion < 0)
                return QString();
            const Motion& motion = plan_->plan().motions[static_cast<std::size_t>(c.motion)];
            const auto at = [&](double x) { return QString::fromStdString(wordsFor(motion, x)); };
            const QString who = side.isEmpty() ? QString() : side + QLatin1Char(' ');
            return c.trouble.empty() ? QString()
                   : c.onset < 0
                       ? QObject::tr("%1within limits to %2").arg(who, at(c.limit))
                       : QObject::tr("%1starts at %2, worst at %3").arg(who, at(c.onset), at(c.peak));
        };
        QStringList parts{say(r.left, tr("left")), say(r.right, tr("right")), say(r.single, {})};
        parts.removeAll(QString());
        const double changes[] = {r.left.change, r.right.change, r.single.change};
        const auto [best, most] = std::minmax_element(std::begin(changes), std::end(changes));
        if (run_->earlier() && (*best < 0 || *most > 0))
            parts << (*best >= 0   ? tr("worse than build %1")
                      : *most <= 0 ? tr("better than build %1")
                                   : tr("better and worse than build %1"))
                         .arg(run_->earlier()->build);
        const StripCurve* curves[] = {&r.left, &r.right, &r.single};
        for (const StripCurve* c : curves)
            if (c->motion >= 0 && c->past.known())
                parts << (c == &r.left    ? tr("left in the show: %1")
                          : c == &r.right ? tr("right in the show: %1")
                                          : tr("in the show: %1"))
                             .arg(QString::fromStdString(wordsFor(*exposure_->exposure(), c->past)));
        if (std::any_of(std::begin(curves), std::end(curves),
                        [](const StripCurve* c) { return !c->good.trouble.empty(); }))
            parts << (std::any_of(
                          std::begin(curves), std::end(curves),
                          [this](const StripCurve* c) { return beyondBand(*c, c->good, filter_.kind) > 0; })
                          ? tr("beyond what the reference shows")
                          : tr("within what the reference shows"));
        return QStringLiteral("%1: %2").arg(r.name, parts.join(QStringLiteral("; ")));
    }
    return {};
}

} // namespace hobble
