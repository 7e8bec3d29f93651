#include "app/review/strip_head.h"

#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "app/words.h"
#include "core/words/finding_words.h"

#include <QButtonGroup>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include <set>

namespace hobble {

StripHead::StripHead(StripModel* model, BuildDesk* build, PlanDesk* plan, RunDesk* run,
                     ExposureDesk* exposure, QWidget* parent)
    : QWidget(parent), model_(model), build_(build), plan_(plan), run_(run), exposure_(exposure) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(14, 6, 20, 2);
    all->setSpacing(2);
    planLine_ = new QLabel;
    planLine_->setObjectName(QStringLiteral("planCost"));
    planLine_->setProperty("quiet", true);
    planLine_->setWordWrap(true);
    setType(planLine_, 0.92);
    auto* order = new FlowLayout(6);
    const auto word = [&](const QString& text, const QString& name) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        b->setCheckable(true);
        b->setCursor(Qt::PointingHandCursor);
        order->addWidget(b);
        return b;
    };
    auto* body = word(tr("body order"), QStringLiteral("bodyOrder"));
    auto* worst = word(tr("worst first"), QStringLiteral("worstFirst"));
    mostUsed_ = word(tr("most used"), QStringLiteral("mostUsed"));
    mostUsed_->setToolTip(tr("First where most frames of the show's clips go past where trouble begins"));
    auto* group = new QButtonGroup(this);
    for (QPushButton* b : {body, worst, mostUsed_})
        group->addButton(b);
    body->setChecked(true);
    changed_ = word(tr("changed"), QStringLiteral("onlyChanged"));
    compare_ = word(tr("side by side"), QStringLiteral("compareBuilds"));
    compare_->setCheckable(false);
    compare_->setToolTip(tr("Both builds on the Compare page"));
    connect(compare_, &QPushButton::clicked, this, &StripHead::compareWanted);
    good_ = word(tr("reference"), QStringLiteral("goodBehind"));
    auto* method = combo(QStringLiteral("method"), tr("Skinning method"));
    method->addItem(tr("linear skinning"), int(Skinning::Linear));
    method->addItem(tr("dual quaternions"), int(Skinning::DualQuaternion));
    all->addLayout(order);

    auto* choose = new FlowLayout(4);
    measure_ = combo(QStringLiteral("stripMeasure"), tr("Measure the strips show"));
    measure_->addItem(tr("worst measure"), -1);
    for (Kind k : kKinds)
        if (k != Kind::Spike) // a few vertices: no measure of the joint
            measure_->addItem(inWords(nameOf(k)), int(k));
    severity_ = combo(QStringLiteral("stripSeverity"), tr("Severity from which strips are shown"));
    severity_->addItem(tr("every motion"), 0);
    for (const auto& [text, least] : {std::pair(tr("minor and up"), 1),
                                      {tr("notable and up"), 2},
                                      {tr("serious and up"), 3},
                                      {tr("blocking"), 4}})
        severity_->addItem(text, least);
    joint_ = combo(QStringLiteral("stripJoint"), tr("Joint whose motions are shown"));
    reached_ =
        combo(QStringLiteral("stripReached"), tr("Whether the show's clips go past where trouble begins"));
    reached_->addItem(tr("used or not"), int(Reached::Any));
    reached_->addItem(tr("where the show goes"), int(Reached::Yes));
    reached_->addItem(tr("never reached"), int(Reached::Never));
    for (QComboBox* c : {measure_, severity_, joint_, method, reached_})
        choose->addWidget(c);
    all->addLayout(choose);
    all->addWidget(planLine_);

    for (const auto& [button, by] : {std::pair(body, StripOrder::Body),
                                     {worst, StripOrder::WorstFirst},
                                     {mostUsed_, StripOrder::MostUsedFirst}})
        connect(button, &QPushButton::toggled, model_, [this, by = by](bool on) {
            if (on)
                model_->setOrder(by);
        });
    connect(method, &QComboBox::currentIndexChanged, this,
            [this, method] { run_->setMethod(Skinning(method->currentData().toInt())); });
    for (QComboBox* c : {measure_, severity_, joint_, reached_})
        connect(c, &QComboBox::currentIndexChanged, this, &StripHead::applyFilter);
    connect(changed_, &QPushButton::toggled, this, &StripHead::applyFilter);
    connect(good_, &QPushButton::toggled, this, &StripHead::applyFilter);
    connect(build_, &BuildDesk::characterChanged, this, [this] {
        listJoints();
        clearFilter();
    });
    connect(build_, &BuildDesk::characterChanged, this, &StripHead::tellPlan);
    connect(run_, &RunDesk::runChanged, this, &StripHead::tellPlan);
    connect(&run_->jobs(), &JobQueue::progressed, this, &StripHead::tellPlan);
    connect(&run_->jobs(), &JobQueue::idle, this, &StripHead::tellPlan);
    connect(exposure_, &ExposureDesk::exposureChanged, this, &StripHead::tellUse);
    listJoints();
    tellPlan();
    tellUse();
}

QComboBox* StripHead::combo(const QString& name, const QString& accessible) {
    auto* c = new QComboBox;
    c->setObjectName(name);
    c->setAccessibleName(accessible);
    c->setToolTip(accessible);
    c->setSizeAdjustPolicy(QComboBox::AdjustToContents);
    setType(c, 0.95);
    return c;
}

void StripHead::listJoints() {
    const QSignalBlocker quiet(joint_);
    joint_->clear();
    joint_->addItem(tr("any joint"), -1);
    const auto s = build_->subject();
    if (!s)
        return;
    std::set<int> listed;
    for (const Motion& m : plan_->plan().motions)
        for (const JointTurn& t : m.turns)
            if (listed.insert(t.joint).second)
                joint_->addItem(QString::fromStdString(jointWords(*s, t.joint)), t.joint);
}

void StripHead::clearFilter() {
    for (QComboBox* c : {measure_, severity_, joint_, reached_})
        c->setCurrentIndex(0);
    changed_->setChecked(false);
    applyFilter(); // a list filled anew stands at its first entry already, and says nothing
}

void StripHead::applyFilter() {
    const int kind = measure_->currentData().toInt();
    model_->setFilter({kind < 0 ? std::nullopt : std::optional(static_cast<Kind>(kind)),
                       severity_->currentData().toInt(), joint_->currentData().toInt(), changed_->isChecked(),
                       good_->isChecked(), static_cast<Reached>(reached_->currentData().toInt())});
}

// Nothing to choose by while no clip was counted.
void StripHead::tellUse() {
    const bool known = exposure_->exposure() && !exposure_->exposure()->clips.empty();
    mostUsed_->setVisible(known);
    reached_->setVisible(known);
    if (known)
        return;
    reached_->setCurrentIndex(0);
    if (mostUsed_->isChecked())
        findChild<QPushButton*>(QStringLiteral("bodyOrder"))->setChecked(true);
}

// What will be run, what is being run, what was run.
void StripHead::tellPlan() {
    const auto* earlier = run_->earlier();
    changed_->setEnabled(earlier != nullptr);
    compare_->setVisible(earlier != nullptr);
    changed_->setText(earlier ? tr("changed since build %1").arg(earlier->build) : tr("changed"));
    changed_->setToolTip(
        earlier ? tr("Only motions that got better or worse since build %1, whose curve is drawn dashed")
                      .arg(earlier->build)
                : tr("The log holds no run of an earlier build to compare with"));
    const auto* good = run_->good();
    good_->setVisible(good != nullptr);
    if (good)
        good_->setToolTip(tr("What %1, build %2, shows stands behind each strip as a band: the team took it "
                             "for good")
                              .arg(good->reference.build.character)
                              .arg(good->reference.build.number));
    const Plan& plan = plan_->plan();
    if (!build_->subject() || plan.motions.empty())
        return planLine_->hide();
    QString text = tr("%1: %2 motions, %3 poses")
                       .arg(QString::fromStdString(plan.name))
                       .arg(run_->cost().motions)
                       .arg(plan.stepCount());
    if (const auto run = run_->run())
        text += run_->jobs().busy() ? tr(", running again")
                : run->cancelled    ? tr(", stopped before its end")
                                    : QString();
    else
        text += run_->jobs().busy() ? tr(", running") : tr(", not run yet: F5 runs it");
    planLine_->setText(text);
    // Once it is run it is no news any more.
    planLine_->setVisible(!run_->run() || run_->run()->cancelled || run_->jobs().busy());
}

} // namespace hobble
