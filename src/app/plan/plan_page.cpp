#include "app/plan/plan_page.h"

#include "app/coverage/coverage_line.h"
#include "app/plan/clip_pane.h"
#include "app/plan/pose_shelf.h"
#include "app/plan/show_pane.h"
#include "app/plan/variant_strips.h"
#include "app/plan/variants_pane.h"
#include "app/plan/versions_pane.h"
#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "app/widgets/parts.h"

#include <QCheckBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QJsonObject>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QSplitter>
#include <QStackedWidget>
#include <QTreeView>
#include <QVBoxLayout>

namespace hobble {

PlanPage::PlanPage(BuildDesk* build, PlanDesk* plan, PoseDesk* pose, RunDesk* run, ExposureDesk* exposure,
                   LogDesk* log, QWidget* parent)
    : Page(parent), build_(build), plan_(plan), pose_(pose), run_(run), exposure_(exposure), log_(log) {
    setAccessibleName(tr("Plan"));
    model_ = new PlanModel(build, plan, this);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->addWidget(columns({buildLeft(), buildMiddle(), buildRight()}, 1, {380, 570, 330}));
    connect(plan_, &PlanDesk::planChanged, this, &PlanPage::refresh);
    connect(run_, &RunDesk::runChanged, this, &PlanPage::refresh);
    connect(build_, &BuildDesk::characterChanged, this, &PlanPage::refresh);
    PoseDesk* desk = pose;
    for (auto signal : {&PoseDesk::poseChanged, &PoseDesk::jointChanged, &PoseDesk::rangesChanged})
        connect(desk, signal, this, &PlanPage::refreshJoint);
    connect(desk, &PoseDesk::balanceChanged, this, &PlanPage::refreshWords);
    showPane(Poses);
    refresh();
    refreshJoint();
}

QWidget* PlanPage::buildLeft() {
    auto* left = new QWidget;
    setTextLeast(left, 340, 440);
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(20, 10, 10, 8);
    column->setSpacing(5);
    cost_ = new QLabel;
    cost_->setObjectName(QStringLiteral("planTotals"));
    cost_->setTextFormat(Qt::PlainText);
    cost_->setWordWrap(true);
    setType(cost_, 1.12, true);
    column->addWidget(cost_);
    stale_ = new QLabel;
    stale_->setObjectName(QStringLiteral("planStale"));
    stale_->setProperty("quiet", true);
    stale_->setWordWrap(true);
    stale_->setTextFormat(Qt::PlainText);
    column->addWidget(stale_);
    column->addWidget(new CoverageLine(build_, plan_));
    auto* row = new QHBoxLayout;
    runButton_ = new QPushButton(tr("Run the plan"));
    runButton_->setObjectName(QStringLiteral("planRun"));
    runButton_->setProperty("strong", true);
    connect(runButton_, &QPushButton::clicked, this, &PlanPage::runPlan);
    auto* both = new QCheckBox(tr("both sides at once"));
    both->setObjectName(QStringLiteral("planBothSides"));
    both->setChecked(true);
    connect(both, &QCheckBox::toggled, this, [this](bool on) {
        model_->setBothSides(on);
        if (posing_)
            posing_->setBothSides(on);
    });
    row->addWidget(runButton_);
    row->addStretch();
    row->addWidget(both);
    column->addLayout(row);
    motions_ = new QTreeView;
    motions_->setObjectName(QStringLiteral("planMotions"));
    motions_->setAccessibleName(tr("Motions of the plan"));
    motions_->setModel(model_);
    motions_->setUniformRowHeights(true);
    motions_->setFrameShape(QFrame::NoFrame);
    motions_->setIndentation(px(14));
    motions_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    motions_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    motions_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed);
    motions_->setTextElideMode(Qt::ElideRight);
    auto* header = motions_->header();
    header->setStretchLastSection(false);
    header->setMinimumSectionSize(px(30));
    header->setSectionResizeMode(PlanModel::Name, QHeaderView::Stretch);
    header->setSectionResizeMode(PlanModel::To, QHeaderView::ResizeToContents);
    header->setSectionResizeMode(PlanModel::Poses, QHeaderView::ResizeToContents);
    column->addWidget(motions_, 1);
    connect(motions_->selectionModel(), &QItemSelectionModel::currentChanged, this, &PlanPage::showMotion);
    return left;
}

QWidget* PlanPage::buildMiddle() {
    auto* middle = new QWidget;
    auto* column = new QVBoxLayout(middle);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* bar = new QWidget;
    auto* row = new FlowLayout(4);
    bar->setLayout(row);
    row->setContentsMargins(10, 4, 10, 4);
    PoseDesk* desk = pose_;
    const auto word = [&](const QString& text, const char* name, auto&& does) {
        connect(wordButton(row, text, QLatin1String(name)), &QPushButton::clicked, this, does);
    };
    const auto toggle = [&](const QString& text, const char* name, bool on, auto&& does) {
        connect(wordToggle(row, text, QLatin1String(name), on), &QPushButton::toggled, this, does);
    };
    word(tr("neutral"), "poseNeutral", [desk] { desk->neutral(); });
    word(tr("mirror"), "poseMirror", [desk] { desk->mirror(); });
    word(tr("left as right"), "poseFromRight", [desk] { desk->copyFrom(Side::Right); });
    word(tr("right as left"), "poseFromLeft", [desk] { desk->copyFrom(Side::Left); });
    toggle(tr("keep to ranges"), "poseLimits", true, [desk](bool on) { desk->setLimitsKept(on); });
    if (!Viewport::supported()) {
        column->addWidget(bar);
        column->addWidget(noOpenGl(tr("Ranges and angles can be typed.")), 1);
    } else {
        viewport_ = new Viewport(&pose_->view());
        viewport_->setObjectName(QStringLiteral("planViewport"));
        viewport_->setAccessibleName(tr("Character to be posed"));
        viewport_->setColouring(Colouring::Own);
        viewport_->setLimits(run_->limits());
        connect(run_, &RunDesk::limitsChanged, viewport_, [this] { viewport_->setLimits(run_->limits()); });
        posing_ = new PosingTool(viewport_, pose_, plan_);
        toggle(tr("stretch"), "poseStretch", false,
               [this](bool on) { viewport_->setColouring(on ? Colouring::Strain : Colouring::Own); });
        toggle(tr("skeleton"), "poseSkeleton", true, [this](bool on) {
            Shown s = viewport_->shown();
            s.skeleton = on;
            viewport_->setShown(s);
        });
        connect(posing_, &PosingTool::said, this, [this](const QString& said) {
            said_ = said;
            refreshWords();
        });
        column->addWidget(bar);
        column->addWidget(viewport_, 1);
    }
    auto* foot = new QWidget;
    auto* lines = new QVBoxLayout(foot);
    lines->setContentsMargins(14, 6, 14, 6);
    lines->setSpacing(4);
    auto* angles = new FlowLayout(8);
    angles->setContentsMargins(0, 0, 0, 0);
    jointTitle_ = new QLabel;
    jointTitle_->setObjectName(QStringLiteral("posedJoint"));
    jointTitle_->setTextFormat(Qt::PlainText);
    setType(jointTitle_, 1.0, true);
    angles->addWidget(jointTitle_);
    const QString names[] = {tr("bend"), tr("side"), tr("roll")};
    for (int axis = 0; axis < 3; ++axis) {
        auto* label = new QLabel(names[axis]);
        label->setProperty("quiet", true);
        auto* spin = new QDoubleSpinBox;
        spin->setObjectName(QStringLiteral("angle%1").arg(axis));
        spin->setAccessibleName(names[axis]);
        spin->setDecimals(0);
        spin->setRange(-180, 180);
        spin->setSingleStep(5);
        spin->setSuffix(QStringLiteral("°"));
        spin->setKeyboardTracking(false);
        connect(spin, &QDoubleSpinBox::valueChanged, this, [this, axis](double x) { setAngle(axis, x); });
        auto* pair = new QWidget;
        auto* both = new QHBoxLayout(pair);
        both->setContentsMargins(0, 0, 0, 0);
        both->addWidget(label);
        both->addWidget(spin);
        angles->addWidget(pair);
        angle_[axis] = spin;
    }
    pinned_ = new QCheckBox(tr("pinned"));
    pinned_->setObjectName(QStringLiteral("posePinned"));
    pinned_->setToolTip(tr("Stays where it is while another is dragged."));
    connect(pinned_, &QCheckBox::toggled, this, [this](bool on) {
        if (!filling_)
            pose_->setPinned(pose_->joint(), on);
    });
    angles->addWidget(pinned_);
    auto* angleRow = new QWidget;
    angleRow->setLayout(angles);
    lines->addWidget(angleRow);
    words_ = new QLabel;
    words_->setObjectName(QStringLiteral("poseWords"));
    words_->setTextFormat(Qt::PlainText);
    words_->setWordWrap(true);
    words_->setProperty("quiet", true);
    words_->setAlignment(Qt::AlignTop);
    wordsRoom_ = new QScrollArea;
    wordsRoom_->setWidgetResizable(true);
    wordsRoom_->setFrameShape(QFrame::NoFrame);
    wordsRoom_->setFocusPolicy(Qt::NoFocus);
    wordsRoom_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    wordsRoom_->setWidget(words_);
    lines->addWidget(wordsRoom_);
    column->addWidget(foot);
    variantStrips_ = new VariantStrips(build_, plan_, run_, pose_);
    column->addWidget(variantStrips_, 1);
    connect(variantStrips_, &VariantStrips::changed, this, &PlanPage::showVariantStrips);
    variantStrips_->hide();
    return middle;
}

QWidget* PlanPage::buildRight() {
    auto* right = new QWidget;
    setTextLeast(right, 310, 380);
    auto* column = new QVBoxLayout(right);
    column->setContentsMargins(14, 10, 14, 8);
    column->setSpacing(8);
    auto* tabs = new FlowLayout(4);
    tabs->setContentsMargins(0, 0, 0, 0);
    panes_ = new QStackedWidget;
    const auto pane = [&](const QString& text, const char* name, QWidget* widget) {
        auto* b = new QPushButton(text);
        b->setObjectName(QLatin1String(name));
        b->setCheckable(true);
        auto* scroll = new QScrollArea; // at large text a pane is higher than the window
        scroll->setWidgetResizable(true);
        scroll->setFrameShape(QFrame::NoFrame);
        scroll->setFocusPolicy(Qt::NoFocus);
        scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        scroll->setWidget(widget);
        const int at = panes_->addWidget(scroll);
        connect(b, &QPushButton::clicked, this, [this, at] { showPane(at); });
        tabs->addWidget(b);
        tabs_.push_back(b);
    };
    auto* shelf = new PoseShelf(build_, plan_, pose_, run_);
    auto* variants = new VariantsPane(build_, run_);
    connect(shelf, &PoseShelf::told, this, &Page::told);
    connect(variants, &VariantsPane::failed, this, &Page::failed);
    pane(tr("Poses"), "panePoses", shelf);
    pane(tr("Clips"), "paneClips", new ClipPane(build_, pose_));
    pane(tr("Show"), "paneShow", new ShowPane(plan_, exposure_));
    pane(tr("Variants"), "paneVariants", variants);
    pane(tr("Versions"), "paneVersions", new VersionsPane(build_, plan_, run_, log_));
    auto* line = new QWidget;
    line->setLayout(tabs);
    column->addWidget(line);
    column->addWidget(panes_, 1);
    return right;
}

QString PlanPage::count() const {
    const std::size_t changed = run_->changesSinceRun().size();
    return changed ? tr("%1 changed").arg(changed) : QString();
}

QWidget* PlanPage::firstFocus() { return motions_; }

void PlanPage::addActions(ActionBook& book) {
    addAction(book, "plan-run", tr("Run the plan and go to Review"), Qt::CTRL | Qt::Key_Return,
              [this] { runPlan(); });
    addAction(book, "plan-out", tr("Take the chosen motion out of the plan"), Qt::Key_Delete,
              [this] { takeOut(); });
    addAction(book, "pose-neutral", tr("Neutral pose"), Qt::Key_Home, [this] { pose_->neutral(); });
    addAction(book, "pose-mirror", tr("Mirror the pose"), Qt::Key_M, [this] { pose_->mirror(); });
    addAction(book, "pose-from-right", tr("Pose the left side as the right"), {},
              [this] { pose_->copyFrom(Side::Right); });
    addAction(book, "pose-from-left", tr("Pose the right side as the left"), {},
              [this] { pose_->copyFrom(Side::Left); });
    addAction(book, "pose-whole", tr("Frame the whole character to be posed"), Qt::Key_H, [this] {
        if (viewport_)
            viewport_->frameAll();
    });
    addAction(book, "plan-standard", tr("Take the standard plan"), {}, [this] { plan_->takeStandardPlan(); });
    for (const auto& [id, text, pane] : {std::tuple("pane-poses", tr("Show the pose shelf"), Poses),
                                         {"pane-clips", tr("Take poses from a clip"), Clips},
                                         {"pane-show", tr("Where the show's clips go"), Show},
                                         {"pane-variants", tr("Show the variants of the build"), Variants},
                                         {"pane-versions", tr("Show the plan's versions"), Versions}})
        addFromAnywhere(book, id, text, [this, pane = pane] { showPane(pane); });
}

QString PlanPage::keyLine(const ActionBook& book) const {
    return book.line({{{"plan-run"}, tr("run the plan")},
                      {{"pose-neutral"}, tr("neutral")},
                      {{"pose-mirror"}, tr("mirror")},
                      {{"plan-out"}, tr("take out")},
                      {{"undo"}, tr("undo")},
                      {{"keys"}, tr("all keys")}});
}

void PlanPage::showPane(int pane) {
    panes_->setCurrentIndex(pane);
    for (std::size_t i = 0; i < tabs_.size(); ++i)
        tabs_[i]->setChecked(static_cast<int>(i) == pane);
    showVariantStrips();
}

void PlanPage::showVariantStrips() {
    variantStrips_->setVisible(panes_->currentIndex() == Variants && !variantStrips_->isEmpty());
}

void PlanPage::runPlan() {
    run_->start();
    emit reviewWanted();
}

void PlanPage::takeOut() {
    for (const std::string& id : model_->motionsOf(motions_->currentIndex()))
        if (model_->motionOf(motions_->currentIndex()) >= 0)
            plan_->takeOut(id);
}

void PlanPage::refresh() {
    emit countChanged();
    runButton_->setEnabled(build_->subject() && run_->cost().poses > 0);
    if (!build_->subject()) {
        cost_->setText(tr("No character is open"));
        stale_->setText(tr("Open one on the Intake page (Ctrl+1)."));
        return;
    }
    const RunCost all = run_->cost(), open = run_->costOfWhatIsOpen();
    cost_->setText(
        tr("%1, %2").arg(all.motions == 1 ? tr("one motion") : tr("%n motions", nullptr, int(all.motions)),
                         all.poses == 1 ? tr("one pose") : tr("%n poses", nullptr, int(all.poses))));
    const auto changes = run_->changesSinceRun();
    QString words = !run_->ranPlan()  ? tr("Not run yet on this build.")
                    : changes.empty() ? tr("Run as it stands.")
                    : changes.size() == 1
                        ? tr("1 change since the run: %1.").arg(QString::fromStdString(changes.front().words))
                        : tr("%n changes since the run, the first: %1.", nullptr, int(changes.size()))
                              .arg(QString::fromStdString(changes.front().words));
    if (open.poses > 0)
        words += tr(" To measure: %1.").arg(QString::fromStdString(wordsFor(open)));
    stale_->setText(words);
}

// The character goes where the motion goes to, and the joint it turns is in hand.
void PlanPage::showMotion(const QModelIndex& at) {
    const int motion = model_->motionOf(at);
    const auto s = build_->subject();
    if (motion < 0 || !s)
        return;
    const Motion& m = plan_->plan().motions[static_cast<std::size_t>(motion)];
    pose_->selectJoint(m.turns.front().joint);
    pose_->showPose(poseAt(s->character->skeleton, m, m.limit()), QString::fromStdString(wordsFor(m)));
    if (viewport_ && m.span == Span::Degrees)
        viewport_->frameJoint(m.turns.front().joint);
    else if (viewport_)
        viewport_->frameAll();
}

void PlanPage::refreshJoint() {
    const auto s = build_->subject();
    PoseDesk* desk = pose_;
    const int joint = desk->joint();
    filling_ = true;
    const bool known = s && joint >= 0 && static_cast<std::size_t>(joint) < desk->ranges().size() &&
                       desk->ranges()[static_cast<std::size_t>(joint)].known;
    for (QDoubleSpinBox* spin : angle_)
        spin->setEnabled(known);
    const bool end = std::find(desk->ends().begin(), desk->ends().end(), joint) != desk->ends().end();
    pinned_->setEnabled(end);
    pinned_->setChecked(end && desk->pinned(joint));
    if (!known)
        for (QDoubleSpinBox* spin : angle_)
            spin->setValue(0);
    if (known) {
        const JointRange& r = desk->ranges()[static_cast<std::size_t>(joint)];
        const Vec3d angles = anglesIn(r, desk->pose().turn[static_cast<std::size_t>(joint)]);
        for (int axis = 0; axis < 3; ++axis)
            angle_[axis]->setValue(std::round(angles[axis]));
    }
    jointTitle_->setText(
        s && joint >= 0 ? QString::fromStdString(s->character->skeleton.name[static_cast<std::size_t>(joint)])
                        : tr("no joint in hand"));
    filling_ = false;
    refreshWords();
}

void PlanPage::setAngle(int axis, double degrees) {
    PoseDesk* desk = pose_;
    if (filling_ || desk->joint() < 0)
        return;
    desk->setPose(desk->turned(desk->pose(), desk->joint(), axis, degrees), tr("turn a joint"));
}

// Where the joint stands in its range, what a drag cannot do, and whether the body would stand.
void PlanPage::refreshWords() {
    const auto s = build_->subject();
    PoseDesk* desk = pose_;
    if (!s)
        return words_->setText({});
    QStringList words;
    const int joint = desk->joint();
    if (joint >= 0 && static_cast<std::size_t>(joint) < desk->ranges().size() &&
        desk->ranges()[static_cast<std::size_t>(joint)].known) {
        const JointRange& r = desk->ranges()[static_cast<std::size_t>(joint)];
        const Vec3d angles = anglesIn(r, desk->pose().turn[static_cast<std::size_t>(joint)]);
        const QString axes[] = {tr("bend"), tr("side"), tr("roll")};
        QStringList sources;
        for (int axis = 0; axis < 3; ++axis) {
            const auto a = static_cast<std::size_t>(axis);
            if (r.leastMotion[a] < 0 && r.mostMotion[a] < 0)
                continue;
            words << tr("%1 %2° of %3…%4°")
                         .arg(axes[axis])
                         .arg(angles[axis], 0, 'f', 0)
                         .arg(r.leastMotion[a] >= 0 ? r.least[a] : 0, 0, 'f', 0)
                         .arg(r.mostMotion[a] >= 0 ? r.most[a] : 0, 0, 'f', 0);
            for (int motion : {r.leastMotion[a], r.mostMotion[a]})
                if (motion >= 0 && motion < static_cast<int>(plan_->plan().motions.size()))
                    sources << QString::fromStdString(
                        plan_->plan().motions[static_cast<std::size_t>(motion)].source);
        }
        sources.removeDuplicates();
        words << tr("ranges: %1").arg(sources.join(QStringLiteral(", ")));
        if (const double past = beyond(r, desk->pose().turn[static_cast<std::size_t>(joint)]); past > 1)
            words << tr("%1° past its range").arg(past, 0, 'f', 0);
    } else {
        words << tr("Press a joint to turn it by its arcs; drag a ringed hand, foot, the hips or the head.");
    }
    words << QString::fromStdString(wordsFor(desk->balance(), s->body));
    if (!said_.isEmpty())
        words << said_;
    // always of two lines: the character must not move under the hand when there is more to say
    wordsRoom_->setFixedHeight(2 * words_->fontMetrics().lineSpacing() + 2);
    words_->setText(words.join(QStringLiteral("  ·  ")));
}

QJsonObject PlanPage::placeToKeep() const { return {{QStringLiteral("pane"), panes_->currentIndex()}}; }

void PlanPage::goBackTo(const QJsonObject& place) {
    if (const int pane = place.value(QStringLiteral("pane")).toInt(); pane >= Poses && pane <= Versions)
        showPane(pane);
}

} // namespace hobble
