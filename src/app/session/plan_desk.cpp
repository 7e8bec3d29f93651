#include "app/session/plan_desk.h"

#include "core/pose/test_clip.h"
#include "io/bvh_write.h"
#include "io/file_write.h"
#include "io/gltf_write.h"
#include "io/plan_json.h"

#include <QFileInfo>

#include <cmath>

namespace hobble {

PlanDesk::PlanDesk(Shared& shared, BuildDesk& build, LogDesk& log) : Desk(shared), build_(build), log_(log) {
    connect(&build, &BuildDesk::subjectReplaced, this, &PlanDesk::takeSubject);
    connect(&build, &BuildDesk::characterSettled, this, [this](BuildDesk::Change change) {
        if (change != BuildDesk::Change::Worn)
            emit planChanged(QPrivateSignal());
    });
    connect(&log, &LogDesk::logChanged, this, &PlanDesk::refreshVersions); // other leads' versions
}

const Motion* PlanDesk::motion(int at) const {
    return at >= 0 && at < static_cast<int>(plan_.motions.size())
               ? &plan_.motions[static_cast<std::size_t>(at)]
               : nullptr;
}

Plan PlanDesk::standardPlan() const {
    return build_.build() ? fullPlan(*build_.build(), build_.buildSubject()->roles) : Plan{};
}

void PlanDesk::takeSubject(BuildDesk::Change change) {
    if (change == BuildDesk::Change::Worn)
        return; // the same plan on another variant
    plan_ = standardPlan();
    loadNewest();
}

bool PlanDesk::set(const Plan& plan) {
    jobs().cancel();
    plan_ = plan;
    emit planReplaced(QPrivateSignal());
    keep({});
    emit planChanged(QPrivateSignal());
    emit planSettled(QPrivateSignal());
    return true;
}

void PlanDesk::change(const Plan& plan, const QString& what) {
    if (!build_.subject())
        return;
    const Plan before = plan_;
    set(plan);
    undoable(
        what, [=, this] { return set(plan); }, [=, this] { return set(before); });
}

void PlanDesk::keep(const QString& note) {
    if (!log_.link().canRead() || !build_.build())
        return;
    if (log_.state() == LogState::ReadOnly)
        return; // said when it was opened
    const qint64 basedOn = versions_.isEmpty() ? 0 : versions_.front().id;
    const auto kept = log_.link().ask([name = log_.character(),
                                       json = QByteArray::fromStdString(planToJson(plan_, *build_.build())),
                                       by = log_.author(), note, basedOn](ProductionLog& log) {
        return log.keepPlan(name, json, by, note, !note.isNull(), basedOn);
    });
    if (!kept)
        fail(kept.error());
    refreshVersions();
}

void PlanDesk::keepVersion(const QString& note) {
    keep(note);
    emit planChanged(QPrivateSignal());
}

void PlanDesk::refreshVersions() {
    if (!log_.link().canRead() || !build_.build())
        return;
    auto known = log_.link().ask([name = log_.character()](ProductionLog& log) { return log.plans(name); });
    if (!known)
        return fail(known.error());
    versions_ = std::move(*known);
}

// The newest plan of the team, where there is one; what it names and this build lacks is told, and left out.
void PlanDesk::loadNewest() {
    versions_.clear();
    refreshVersions();
    if (versions_.isEmpty())
        return;
    std::vector<std::string> left;
    const auto plan = planFromJson(versions_.front().plan.toStdString(), *build_.build(), &left);
    if (!plan || plan->motions.empty())
        return tell(tr("The kept plan fits no joint of this build; the standard plan is used."));
    plan_ = *plan;
    if (!left.empty())
        tell(left.size() == 1 ? QString::fromStdString(left.front())
                              : tr("%1 motions of the kept plan are left out, the first: %2")
                                    .arg(left.size())
                                    .arg(QString::fromStdString(left.front())));
}

void PlanDesk::takeVersion(qint64 id) {
    for (const PlanVersion& v : versions_) {
        if (v.id != id)
            continue;
        std::vector<std::string> left;
        const auto plan = planFromJson(v.plan.toStdString(), *build_.build(), &left);
        if (!plan)
            return fail(tr("Version %1 cannot be used: %2.")
                            .arg(v.version)
                            .arg(QString::fromStdString(plan.error())));
        return change(*plan, tr("take plan version %1").arg(v.version));
    }
}

Coverage PlanDesk::coverage() const {
    const auto s = build_.subject();
    return s ? coverageOf(*s->character, s->roles, plan_, build_.skinHeld()) : Coverage();
}

void PlanDesk::putIn(const std::vector<int>& joints) {
    const auto s = build_.subject();
    if (!s || joints.empty())
        return;
    Plan plan = plan_;
    for (int j : joints)
        plan = planWith(std::move(plan), *s->character, s->roles, j);
    change(plan, joints.size() == 1
                     ? tr("test %1 too")
                           .arg(QString::fromStdString(
                               s->character->skeleton.name[static_cast<std::size_t>(joints.front())]))
                     : tr("test %1 more joints").arg(joints.size()));
}

void PlanDesk::takeStandardPlan() { change(standardPlan(), tr("take the standard plan")); }

void PlanDesk::setRange(const std::string& id, double limit, bool bothSides) {
    Plan plan = plan_;
    const int at = plan.find(id);
    if (at < 0)
        return;
    const Motion asked = plan.motions[static_cast<std::size_t>(at)];
    if (asked.span != Span::Degrees || std::abs(asked.limit() - limit) < 0.5)
        return;
    limit = std::clamp(std::round(limit), 1.0, 180.0);
    for (Motion& m : plan.motions) {
        const bool fellow =
            bothSides && m.name == asked.name && m.side != Side::Middle && asked.side != Side::Middle;
        if (m.id != id && !fellow)
            continue;
        // the fellow may stand otherwise in neutral: it keeps its difference
        const double by = m.limit() - asked.limit();
        m.steps = stepsTo(std::max(m.id == id ? limit : limit + by, 1.0));
        m.source = "set by hand";
    }
    change(plan, tr("change the range of %1").arg(QString::fromStdString(asked.name)));
}

void PlanDesk::setOn(const std::vector<std::string>& ids, bool on) {
    Plan plan = plan_;
    bool any = false;
    for (const std::string& id : ids)
        if (const int at = plan.find(id); at >= 0 && plan.motions[static_cast<std::size_t>(at)].on != on) {
            plan.motions[static_cast<std::size_t>(at)].on = on;
            any = true;
        }
    if (any)
        change(plan, on ? tr("test motions again") : tr("leave motions out"));
}

void PlanDesk::takeOut(const std::string& id) {
    Plan plan = plan_;
    const int at = plan.find(id);
    if (at < 0)
        return;
    const QString name = QString::fromStdString(wordsFor(plan.motions[static_cast<std::size_t>(at)]));
    if (plan.motions[static_cast<std::size_t>(at)].span == Span::Degrees)
        return setOn({id}, false);
    plan.motions.erase(plan.motions.begin() + at);
    change(plan, tr("take %1 out of the plan").arg(name));
}

void PlanDesk::put(const std::vector<Motion>& motions, const QString& what) {
    Plan plan = plan_;
    for (const Motion& m : motions)
        if (const int known = plan.find(m.id); known >= 0)
            plan.motions[static_cast<std::size_t>(known)] = m;
        else
            plan.motions.push_back(m);
    change(plan, what);
}

void PlanDesk::openFile(const QString& path) {
    if (!build_.build())
        return;
    std::vector<std::string> left;
    const auto plan = readPlan(path.toStdString(), *build_.build(), &left);
    if (!plan)
        return fail(plan.error());
    change(*plan, tr("open a plan"));
    if (!left.empty())
        fail(tr("%1 motions of the plan are left out. %2")
                 .arg(left.size())
                 .arg(QString::fromStdString(left.front())));
}

void PlanDesk::saveFile(const QString& path) {
    if (!build_.build())
        return;
    if (auto written = writeFile(path.toStdString(), planToJson(plan_, *build_.build())); !written)
        return fail(written.error());
    tell(tr("The plan is in %1.").arg(QFileInfo(path).fileName()));
}

void PlanDesk::saveTestClip(const QString& path) {
    const auto build = build_.build();
    if (!build)
        return;
    jobs().start(tr("Writing the test clip"),
                 [this, build, plan = plan_, path](JobControl&) -> std::function<void()> {
                     Character out = *build;
                     out.clips = {testClip(out, plan)};
                     const std::size_t frames = out.clips[0].marks.size();
                     const auto written = path.endsWith(QLatin1String(".bvh"), Qt::CaseInsensitive)
                                              ? writeBvh(out, out.clips[0], 24, path.toStdString())
                                              : writeGlb(out, path.toStdString());
                     return [this, written, frames, path] {
                         if (!written)
                             return fail(written.error());
                         tell(tr("%1: %2 named frames, neutral between the motions.")
                                  .arg(QFileInfo(path).fileName())
                                  .arg(frames));
                     };
                 });
}

} // namespace hobble
