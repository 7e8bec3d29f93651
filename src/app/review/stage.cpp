#include "app/review/stage.h"

#include "app/review/mark_bar.h"
#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "app/widgets/parts.h"
#include "core/judge/look.h"
#include "core/words/finding_words.h"

#include <QActionGroup>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QSettings>
#include <QVBoxLayout>

#include <cmath>
#include <utility>

namespace hobble {

Stage::Stage(BuildDesk* build, RunDesk* run, QUndoStack* undo, Sweep* sweep, QWidget* parent)
    : QWidget(parent), build_(build), run_(run), sweep_(sweep) {
    setObjectName(QStringLiteral("stage"));
    setAttribute(Qt::WA_StyledBackground);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    const bool openGl = Viewport::supported();
    if (openGl) {
        viewport_ = new Viewport(&run_->view());
        viewport_->setObjectName(QStringLiteral("viewport"));
        viewport_->setAccessibleName(tr("Posed character"));
        viewport_->setLimits(run_->limits());
        marking_ = new MarkingTool(viewport_, undo);
    }
    all->addWidget(buildHead());
    for (auto signal : {&RunDesk::poseChanged, &RunDesk::findingChanged})
        connect(run_, signal, this, &Stage::refresh);
    connect(build_, &BuildDesk::characterChanged, this, &Stage::refresh);
    if (!openGl) {
        all->addWidget(noOpenGl(tr("Strips, readings, findings and the log work as ever.")), 1);
        return;
    }
    auto* marks = new MarkBar(marking_);
    connect(marks, &MarkBar::logWanted, this, &Stage::logMarkedWanted);
    connect(marks, &MarkBar::mendWanted, this, &Stage::mendMarkedWanted);
    all->addWidget(marks);
    auto* line = new QHBoxLayout;
    line->setContentsMargins(10, 0, 8, 2);
    line->addWidget(elsewhere_);
    line->addStretch(1);
    all->addLayout(line);
    all->addWidget(viewport_, 1);
    all->addWidget(buildFoot());
    legend_ = new Legend;
    legend_->setObjectName(QStringLiteral("legend"));
    all->addWidget(legend_);
    connect(viewport_, &Viewport::viewChanged, this, &Stage::refresh);
    connect(marking_, &MarkingTool::toolChanged, this, &Stage::refresh);
    connect(sweep_, &Sweep::changed, this, &Stage::refresh);
    connect(run_, &RunDesk::limitsChanged, viewport_, [this] { viewport_->setLimits(run_->limits()); });
    connect(run_, &RunDesk::runChanged, this, &Stage::showPatch);
    connect(run_, &RunDesk::poseChanged, this, &Stage::takePose);
    connect(run_, &RunDesk::findingChanged, this, [this] {
        showPatch();
        lookAtFinding();
    });
    connect(build_, &BuildDesk::characterChanged, this, [this] {
        looked_.clear();
        looks_.clear();
    });
    connect(&run_->jobs(), &JobQueue::progressed, viewport_,
            [this] { viewport_->setEmptyWords(tr("Opening…")); });
    connect(&run_->jobs(), &JobQueue::idle, viewport_, [this] { viewport_->setEmptyWords({}); });
    refresh();
}

// What is marked is of one motion, from its onset on; where the fault looked at shows another sign, that one.
int Stage::signHere() const {
    const Finding* looked = run_->findingAt(run_->finding());
    const auto shows = [&](const Finding* f) {
        return f && f->motion == run_->motion() && std::abs(run_->poseAt()) >= std::abs(f->onset) - 0.5;
    };
    if (!looked || shows(looked))
        return looked ? run_->finding() : -1;
    const Fault* fault = run_->faultOf(run_->finding());
    if (fault)
        for (int sign : fault->signs)
            if (shows(run_->findingAt(sign)))
                return sign;
    return -1;
}

void Stage::showPatch() {
    const int sign = signHere();
    viewport_->setPatch(sign < 0 ? std::vector<std::uint32_t>() : run_->findingAt(sign)->triangles);
    const Finding* looked = run_->findingAt(run_->finding());
    elsewhere_->setVisible(looked && sign < 0);
    if (!looked || sign >= 0)
        return;
    const Motion& motion = run_->run()->plan.motions[static_cast<std::size_t>(looked->motion)];
    elsewhere_->setText(tr("The fault of the %1 shows in %2 at %3")
                            .arg(QString::fromStdString(jointWords(*build_->subject(), looked->joint)),
                                 QString::fromStdString(wordsFor(motion)),
                                 QString::fromStdString(wordsFor(motion, looked->peak))));
}

// Another motion: the view eases to what it moves, or to where it was when the motion was left.
void Stage::takePose() {
    showPatch();
    const Motion* m = run_->motionShown();
    const std::string id = m ? m->id : std::string();
    if (id == looked_)
        return;
    if (!looked_.empty() && !held_ && !viewport_->framing())
        looks_[looked_] = viewport_->cameraToBe();
    looked_ = id;
    if (std::exchange(comingTo_, -1) == run_->motion() || held_ || !m)
        return;
    if (const auto chosen = looks_.find(id); chosen != looks_.end())
        viewport_->setCamera(chosen->second, true);
    else if (const Finding* f = run_->findingAt(run_->finding()); f && f->motion == run_->motion())
        lookAtFinding();
    else
        lookAtMotion();
}

void Stage::lookAtMotion() {
    const Motion* m = run_->motionShown();
    const auto& s = run_->view().subject();
    if (!m || !s)
        return;
    viewport_->frameOnceShown(jointsMoved(*s, *m), bestLook(*s, *m, m->turns.front().joint));
}

void Stage::setViewHeld(bool held) {
    held_ = held;
    QSettings().setValue(QStringLiteral("viewHeld"), held);
    refresh();
}

// A bend is seen from its side, along the axis it turns about; a roll from the front and a little outside.
void Stage::lookAtFinding() {
    const Finding* f = run_->findingAt(run_->finding());
    if (!f || held_)
        return;
    comingTo_ = f->motion == run_->motion() ? -1 : f->motion;
    viewport_->frameOnceShown({f->joint},
                              bestLook(*run_->view().subject(),
                                       run_->run()->plan.motions[static_cast<std::size_t>(f->motion)],
                                       f->joint),
                              f->triangles);
}

QPushButton* Stage::word(FlowLayout* into, const QString& text, const QString& name, bool checkable) {
    QPushButton* b = checkable ? wordToggle(into, text, name) : wordButton(into, text, name);
    b->setCursor(Qt::PointingHandCursor);
    setType(b, 0.92);
    return b;
}

QMenu* Stage::menuOf(QPushButton* button) {
    button->setMenu(new QMenu(button));
    return button->menu();
}

QWidget* Stage::buildHead() {
    auto* head = new QWidget;
    auto* row = headRow_ = new QHBoxLayout(head);
    row->setContentsMargins(14, 6, 8, 2);
    auto* words = new QVBoxLayout;
    words->setSpacing(0);
    title_ = new QLabel;
    title_->setObjectName(QStringLiteral("viewTitle"));
    title_->setWordWrap(true);
    setType(title_, 1.05, true);
    subtitle_ = new QLabel;
    setType(subtitle_, 0.9);
    words->addWidget(title_);
    words->addWidget(subtitle_);
    elsewhere_ = new QPushButton(this);
    elsewhere_->setObjectName(QStringLiteral("faultElsewhere"));
    elsewhere_->setCursor(Qt::PointingHandCursor);
    elsewhere_->setToolTip(tr("Go there"));
    setType(elsewhere_, 0.9);
    elsewhere_->hide();
    connect(elsewhere_, &QPushButton::clicked, this, [this] { run_->showFinding(run_->finding()); });
    row->addLayout(words, 1);
    if (!viewport_)
        return head;
    views_ = new QWidget;
    auto* views = new FlowLayout(0, views_);
    views->setContentsMargins(0, 0, 0, 0);
    for (ViewFrom from : kViewsFrom)
        connect(word(views, nameOf(from), QStringLiteral("view-") + QLatin1String(idOf(from)), false),
                &QPushButton::clicked, this, [this, from] { viewport_->lookFrom(from); });
    connect(word(views, tr("whole"), QStringLiteral("view-whole"), false), &QPushButton::clicked, this,
            [this] { viewport_->frameAll(); });
    hold_ = word(views, tr("hold"), QStringLiteral("holdView"), true);
    hold_->setToolTip(tr("The view stays where it is when another motion is looked at"));
    held_ = QSettings().value(QStringLiteral("viewHeld")).toBool();
    hold_->setChecked(held_);
    connect(hold_, &QPushButton::toggled, this, &Stage::setViewHeld);
    row->addWidget(views_, 0);
    return head;
}

QWidget* Stage::buildFoot() {
    auto* foot = new QWidget;
    auto* row = new FlowLayout(2, foot);
    row->setContentsMargins(10, 0, 10, 0);
    colours_ = new QComboBox;
    colours_->setObjectName(QStringLiteral("colourBy"));
    colours_->setAccessibleName(tr("What the skin is coloured by"));
    colours_->setToolTip(colours_->accessibleName());
    for (int c = 0; c < kColourings; ++c)
        colours_->addItem(nameOf(static_cast<Colouring>(c)));
    colours_->setMaxVisibleItems(kColourings);
    setType(colours_, 0.92);
    row->addWidget(colours_);
    skeleton_ = word(row, tr("skeleton"), QStringLiteral("showSkeleton"), true);
    wire_ = word(row, tr("wire"), QStringLiteral("showWire"), true);
    smooth_ = word(row, tr("smooth"), QStringLiteral("showSmooth"), true);
    smooth_->setToolTip(tr("A smooth preview, with the true vertices as points"));
    auto* show = word(row, tr("show"), QStringLiteral("showMore"), false);
    connect(menuOf(show), &QMenu::aboutToShow, this, [this, show] { fillShow(show->menu()); });
    auto* parts = word(row, tr("parts"), QStringLiteral("parts"), false);
    connect(menuOf(parts), &QMenu::aboutToShow, this, [this, parts] { fillParts(parts->menu()); });
    play_ = word(row, tr("sweep"), QStringLiteral("sweep"), false);
    connect(menuOf(play_), &QMenu::aboutToShow, this, [this] { fillSweep(play_->menu()); });
    mark_ = word(row, tr("mark"), QStringLiteral("mark"), true);
    mark_->setToolTip(tr("Mark skin by hand and log what no rule found"));

    connect(colours_, &QComboBox::activated, this, [this](int which) {
        viewport_->setWeightJoint(-1);
        viewport_->setColouring(static_cast<Colouring>(which));
    });
    connect(skeleton_, &QPushButton::toggled, this,
            [this](bool on) { changeShown([on](Shown& s) { s.skeleton = on; }); });
    connect(wire_, &QPushButton::toggled, this,
            [this](bool on) { changeShown([on](Shown& s) { s.wire = on; }); });
    connect(smooth_, &QPushButton::toggled, this,
            [this](bool on) { changeShown([on](Shown& s) { s.smooth = on; }); });
    connect(mark_, &QPushButton::toggled, this, [this](bool on) {
        if (on != (marking_->tool() != MarkTool::None))
            marking_->setTool(on ? MarkTool::Brush : MarkTool::None);
    });
    return foot;
}

void Stage::changeShown(const std::function<void(Shown&)>& change) {
    if (!viewport_)
        return;
    Shown shown = viewport_->shown();
    change(shown);
    viewport_->setShown(shown);
}

void Stage::stepIsolation() {
    changeShown([](Shown& s) {
        s.isolation = static_cast<Isolation>(s.isolation == Isolation::Whole  ? 1
                                             : s.isolation == Isolation::Limb ? 2
                                                                              : 0);
    });
}

void Stage::fillParts(QMenu* menu) {
    menu->clear();
    const auto s = build_->subject();
    if (!s)
        return;
    const auto& listed = s->character->parts;
    menu->addAction(tr("show all"), this, [this, count = listed.size()] {
        for (std::size_t p = 0; p < count; ++p)
            viewport_->setPartShown(p, true);
    });
    for (std::size_t p = 0; p < listed.size(); ++p) {
        QAction* a = menu->addAction(QString::fromStdString(listed[p].name));
        a->setCheckable(true);
        a->setChecked(viewport_->partShown(p));
        connect(a, &QAction::toggled, this, [this, p](bool on) { viewport_->setPartShown(p, on); });
    }
    menu->addSeparator();
    for (std::size_t p = 0; p < listed.size() && listed.size() > 1; ++p)
        menu->addAction(tr("only %1").arg(QString::fromStdString(listed[p].name)), this,
                        [this, p] { viewport_->showOnlyPart(p); });
}

void Stage::fillShow(QMenu* menu) {
    menu->clear();
    const Shown& now = viewport_->shown();
    const auto toggle = [&](const QString& text, const QString& name, bool Shown::*what) {
        QAction* a = menu->addAction(text);
        a->setObjectName(name);
        a->setCheckable(true);
        a->setChecked(now.*what);
        connect(a, &QAction::toggled, this,
                [this, what](bool on) { changeShown([&](Shown& s) { s.*what = on; }); });
    };
    toggle(tr("marked patch"), QStringLiteral("show-patch"), &Shown::patch);
    toggle(tr("contact lines"), QStringLiteral("show-contact"), &Shown::contactLines);
    const auto choice = [&](auto list, auto Shown::*what) {
        menu->addSeparator();
        auto* group = new QActionGroup(menu);
        for (const auto& [text, name, value] : list) {
            QAction* a = menu->addAction(text);
            a->setObjectName(name);
            a->setCheckable(true);
            a->setChecked(now.*what == value);
            group->addAction(a);
            connect(a, &QAction::triggered, this,
                    [this, what, set = value] { changeShown([&](Shown& s) { s.*what = set; }); });
        }
    };
    using GhostRow = std::tuple<QString, QString, Ghost>;
    choice(
        std::vector<GhostRow>{
            {tr("no ghost"), QStringLiteral("ghost-none"), Ghost::None},
            {tr("ghost of the neutral"), QStringLiteral("ghost-neutral"), Ghost::Neutral},
            {tr("ghost of the step before"), QStringLiteral("ghost-before"), Ghost::StepBefore},
            {tr("ghost of the step after"), QStringLiteral("ghost-after"), Ghost::StepAfter}},
        &Shown::ghost);
    using IsolationRow = std::tuple<QString, QString, Isolation>;
    choice(
        std::vector<IsolationRow>{
            {tr("the whole character"), QStringLiteral("isolate-whole"), Isolation::Whole},
            {tr("only this limb"), QStringLiteral("isolate-limb"), Isolation::Limb},
            {tr("only this joint's region"), QStringLiteral("isolate-region"), Isolation::Region},
            {tr("without this limb"), QStringLiteral("hide-limb"), Isolation::WithoutLimb},
            {tr("without this region"), QStringLiteral("hide-region"), Isolation::WithoutRegion}},
        &Shown::isolation);
}

void Stage::fillSweep(QMenu* menu) {
    menu->clear();
    if (sweep_->running())
        menu->addAction(tr("stop"), sweep_, &Sweep::stop);
    using Over = Sweep::Over;
    for (const auto& [text, over] : {std::pair(tr("this motion"), Over::Motion),
                                     {tr("this limb"), Over::Limb},
                                     {tr("the whole plan"), Over::Plan}})
        menu->addAction(text, this, [this, over = over] { sweep_->toggle(over); });
    menu->addSeparator();
    auto* paces = new QActionGroup(menu);
    for (const auto& [text, seconds] :
         {std::pair(tr("slow: 5 s to the limit"), 5.0), {tr("normal: 2 s"), 2.0}, {tr("fast: 0.7 s"), 0.7}}) {
        QAction* a = menu->addAction(text);
        a->setCheckable(true);
        a->setChecked(std::abs(sweep_->seconds() - seconds) < 1e-9);
        paces->addAction(a);
        connect(a, &QAction::triggered, this, [this, seconds = seconds] { sweep_->setSeconds(seconds); });
    }
    menu->addSeparator();
    QAction* pause = menu->addAction(tr("rest on the worst angle"));
    pause->setObjectName(QStringLiteral("sweepPause"));
    pause->setCheckable(true);
    pause->setChecked(sweep_->pausesOnPeaks());
    connect(pause, &QAction::toggled, sweep_, &Sweep::setPausesOnPeaks);
}

void Stage::refresh() {
    const auto s = build_->subject();
    if (!s) {
        title_->setText({});
        subtitle_->setText({});
    } else {
        const Motion* m = run_->motionShown();
        title_->setText(m ? tr("%1, %2").arg(QString::fromStdString(wordsFor(*m)),
                                             QString::fromStdString(wordsFor(*m, run_->poseAt())))
                        : !run_->freePoseName().isEmpty()
                            ? run_->freePoseName()
                            : tr("%1, %2°").arg(tr("logged pose")).arg(run_->poseAt(), 0, 'f', 0));
        const auto from = viewport_ ? viewport_->lookedFrom() : std::nullopt;
        subtitle_->setText(from ? sentenceOf(*from) : QString());
    }
    if (!viewport_)
        return;
    // At large text the marking tools need the room.
    views_->setVisible(marking_->tool() == MarkTool::None || Theme::current().textScale <= 1.55);
    const Shown& shown = viewport_->shown();
    hold_->setChecked(held_);
    skeleton_->setChecked(shown.skeleton);
    wire_->setChecked(shown.wire);
    smooth_->setChecked(shown.smooth);
    mark_->setChecked(marking_->tool() != MarkTool::None);
    play_->setText(sweep_->running() ? tr("stop") : tr("sweep"));
    colours_->setCurrentIndex(static_cast<int>(viewport_->colouring()));
    legend_->show(viewport_->colouring(), viewport_->scale(), viewport_->measuring());
}

void Stage::restyle() {
    const Theme& t = Theme::current();
    headRow_->setDirection(t.textScale > 1.55 ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight);
    setStyleSheet(QStringLiteral("#stage { background: %1; } #stage QLabel { color: %2; }"
                                 "#stage QPushButton { color: %3; padding: 3px 4px; }"
                                 "#stage QPushButton:hover { background: rgba(255,255,255,40); }"
                                 "#stage QPushButton:checked { color: %2; border-bottom: 2px solid %2; }"
                                 "#stage QPushButton:focus { border: 1px solid %2; padding: 2px 3px; }")
                      .arg(t.viewport.name(), t.viewportInk.name(), QStringLiteral("#e4e3dd")));
}

} // namespace hobble
