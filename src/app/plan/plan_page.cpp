#include "app/plan/plan_page.h"

#include "app/plan/clip_pane.h"
#include "app/plan/pose_shelf.h"
#include "app/plan/variants_pane.h"
#include "app/plan/versions_pane.h"
#include "app/session/plan_desk.h"
#include "app/theme.h"
#include "app/widgets/flow_layout.h"

#include <QCheckBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QSplitter>
#include <QStackedWidget>
#include <QTreeView>
#include <QVBoxLayout>

namespace hobble {

PlanPage::PlanPage(Session* session, QWidget* parent) : QWidget(parent), session_(session) {
    setAccessibleName(tr("Plan"));
    model_ = new PlanModel(session, this);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    auto* columns = new QSplitter(Qt::Horizontal);
    columns->setChildrenCollapsible(false);
    columns->setHandleWidth(1);
    columns->addWidget(buildLeft());
    columns->addWidget(buildMiddle());
    columns->addWidget(buildRight());
    columns->setStretchFactor(0, 0);
    columns->setStretchFactor(1, 1);
    columns->setStretchFactor(2, 0);
    columns->setSizes({380, 570, 330});
    all->addWidget(columns);
    connect(session, &Session::planChanged, this, &PlanPage::refresh);
    connect(session, &Session::runChanged, this, &PlanPage::refresh);
    connect(session, &Session::characterChanged, this, &PlanPage::refresh);
    PlanDesk* desk = session->desk();
    for (auto signal : {&PlanDesk::poseChanged, &PlanDesk::jointChanged, &PlanDesk::rangesChanged})
        connect(desk, signal, this, &PlanPage::refreshJoint);
    connect(desk, &PlanDesk::frameReady, this, &PlanPage::refreshWords);
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
    auto* row = new QHBoxLayout;
    run_ = new QPushButton(tr("Run the plan"));
    run_->setObjectName(QStringLiteral("planRun"));
    run_->setProperty("strong", true);
    connect(run_, &QPushButton::clicked, this, &PlanPage::runPlan);
    auto* both = new QCheckBox(tr("both sides at once"));
    both->setObjectName(QStringLiteral("planBothSides"));
    both->setChecked(true);
    connect(both, &QCheckBox::toggled, this, [this](bool on) {
        model_->setBothSides(on);
        if (viewport_)
            viewport_->setBothSides(on);
    });
    row->addWidget(run_);
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
    PlanDesk* desk = session_->desk();
    const auto word = [&](const QString& text, const char* name, auto&& does) {
        auto* b = new QPushButton(text);
        b->setObjectName(QLatin1String(name));
        connect(b, &QPushButton::clicked, this, does);
        row->addWidget(b);
        return b;
    };
    const auto toggle = [&](const QString& text, const char* name, bool on, auto&& does) {
        auto* b = new QPushButton(text);
        b->setObjectName(QLatin1String(name));
        b->setCheckable(true);
        b->setChecked(on);
        connect(b, &QPushButton::toggled, this, does);
        row->addWidget(b);
        return b;
    };
    word(tr("neutral"), "poseNeutral", [desk] { desk->neutral(); });
    word(tr("mirror"), "poseMirror", [desk] { desk->mirror(); });
    word(tr("left as right"), "poseFromRight", [desk] { desk->copyFrom(Side::Right); });
    word(tr("right as left"), "poseFromLeft", [desk] { desk->copyFrom(Side::Left); });
    toggle(tr("keep to ranges"), "poseLimits", true, [desk](bool on) { desk->setLimitsKept(on); });
    if (!Viewport::supported()) {
        column->addWidget(bar);
        auto* none = new QLabel(
            tr("There is no OpenGL here to draw the character with. Ranges and angles can be typed."));
        none->setWordWrap(true);
        none->setAlignment(Qt::AlignCenter);
        column->addWidget(none, 1);
    } else {
        viewport_ = new Viewport(session_, nullptr, Showing::Posing);
        viewport_->setObjectName(QStringLiteral("planViewport"));
        toggle(tr("stretch"), "poseStretch", false,
               [this](bool on) { viewport_->setColouring(on ? Colouring::Strain : Colouring::Own); });
        toggle(tr("skeleton"), "poseSkeleton", true, [this](bool on) {
            Shown s = viewport_->shown();
            s.skeleton = on;
            viewport_->setShown(s);
        });
        connect(viewport_, &Viewport::posingSaid, this, [this](const QString& said) {
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
            session_->desk()->setPinned(session_->desk()->joint(), on);
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
    pane(tr("Poses"), "panePoses", new PoseShelf(session_));
    pane(tr("Clips"), "paneClips", new ClipPane(session_));
    pane(tr("Variants"), "paneVariants", new VariantsPane(session_));
    pane(tr("Versions"), "paneVersions", new VersionsPane(session_));
    auto* line = new QWidget;
    line->setLayout(tabs);
    column->addWidget(line);
    column->addWidget(panes_, 1);
    return right;
}

void PlanPage::showPane(int pane) {
    panes_->setCurrentIndex(pane);
    for (std::size_t i = 0; i < tabs_.size(); ++i)
        tabs_[i]->setChecked(static_cast<int>(i) == pane);
}

void PlanPage::runPlan() {
    session_->runAgain();
    emit reviewWanted();
}

void PlanPage::takeOut() {
    for (const std::string& id : model_->motionsOf(motions_->currentIndex()))
        if (model_->motionOf(motions_->currentIndex()) >= 0)
            session_->desk()->takeOut(id);
}

void PlanPage::refresh() {
    run_->setEnabled(session_->subject() && session_->cost().poses > 0);
    if (!session_->subject()) {
        cost_->setText(tr("No character is open"));
        stale_->setText(tr("Open one on the Intake page (Ctrl+1)."));
        return;
    }
    const RunCost all = session_->cost(), open = session_->costOfWhatIsOpen();
    cost_->setText(tr("%1 motions, %2 poses").arg(all.motions).arg(all.poses));
    const auto changes = session_->changesSinceRun();
    QString words = !session_->ranPlan() ? tr("Not run yet on this build.")
                    : changes.empty()    ? tr("Run as it stands.")
                    : changes.size() == 1
                        ? tr("1 change since the run: %1.").arg(QString::fromStdString(changes.front().words))
                        : tr("%1 changes since the run, the first: %2.")
                              .arg(changes.size())
                              .arg(QString::fromStdString(changes.front().words));
    if (open.poses > 0)
        words += tr(" To measure: %1.").arg(QString::fromStdString(wordsFor(open)));
    stale_->setText(words);
}

// The character goes where the motion goes to, and the joint it turns is in hand.
void PlanPage::showMotion(const QModelIndex& at) {
    const int motion = model_->motionOf(at);
    const auto s = session_->subject();
    if (motion < 0 || !s)
        return;
    const Motion& m = session_->plan().motions[static_cast<std::size_t>(motion)];
    session_->desk()->selectJoint(m.turns.front().joint);
    session_->desk()->showPose(poseAt(s->character->skeleton, m, m.limit()),
                               QString::fromStdString(wordsFor(m)));
    if (viewport_ && m.span == Span::Degrees)
        viewport_->frameJoint(m.turns.front().joint);
    else if (viewport_)
        viewport_->frameAll();
}

void PlanPage::refreshJoint() {
    const auto s = session_->subject();
    PlanDesk* desk = session_->desk();
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
    PlanDesk* desk = session_->desk();
    if (filling_ || desk->joint() < 0)
        return;
    desk->setPose(desk->turned(desk->pose(), desk->joint(), axis, degrees), tr("turn a joint"));
}

// Where the joint stands in its range, what a drag cannot do, and whether the body would stand.
void PlanPage::refreshWords() {
    const auto s = session_->subject();
    PlanDesk* desk = session_->desk();
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
                if (motion >= 0 && motion < static_cast<int>(session_->plan().motions.size()))
                    sources << QString::fromStdString(
                        session_->plan().motions[static_cast<std::size_t>(motion)].source);
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

} // namespace hobble
