#include "app/mend/mend_page.h"

#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "app/widgets/parts.h"
#include "core/judge/look.h"
#include "core/words/finding_words.h"

#include <QApplication>
#include <QComboBox>
#include <QInputDialog>
#include <QJsonObject>
#include <QKeyEvent>
#include <QMenu>
#include <QScrollArea>
#include <QSettings>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

// Which of the two one sees, while there are two.
class NameTool : public ViewportTool {
public:
    NameTool(Viewport* viewport, MendDesk* mend, QString name)
        : ViewportTool(viewport), viewport_(viewport), mend_(mend), name_(std::move(name)) {
        viewport->addTool(this);
    }
    void paintOver(QPainter& p) override {
        if (mend_->besideShown() && viewport_->view()->subject())
            viewport_->paintWordsAt(p, QPointF(0, 0), name_);
    }

private:
    Viewport* viewport_;
    MendDesk* mend_;
    QString name_;
};

} // namespace

MendPage::MendPage(MendDesk* mend, BuildDesk* build, RunDesk* run, LogDesk* log, QUndoStack* undo,
                   QWidget* parent)
    : Page(parent), mend_(mend), build_(build), run_(run), log_(log) {
    setAccessibleName(tr("Mend"));
    if (Viewport::supported()) {
        viewport_ = new Viewport(&mend_->view());
        viewport_->setObjectName(QStringLiteral("mendViewport"));
        viewport_->setAccessibleName(tr("The character under trial"));
        viewport_->setEmptyWords(tr("What is tried is seen here, once there is something to try."));
        buildViewport_ = new Viewport(&mend_->buildView());
        buildViewport_->setObjectName(QStringLiteral("mendBuildViewport"));
        buildViewport_->setAccessibleName(tr("The build as it came"));
        buildViewport_->setEmptyWords({});
        buildViewport_->hide();
        new NameTool(buildViewport_, mend, tr("as it came"));
        new NameTool(viewport_, mend, tr("tried"));
        brush_ = new BrushTool(viewport_, mend);
        jointTool_ = new JointTool(viewport_, mend);
        axisTool_ = new AxisTool(viewport_, mend);
        marking_ = new MarkingTool(viewport_, undo);
    }
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->addWidget(columns({buildLeft(), buildMiddle(), buildRight()}, 1, {392, 548, 340}));
    connect(mend, &MendDesk::aimChanged, this, &MendPage::refreshAim);
    connect(mend, &MendDesk::trialChanged, this, &MendPage::refreshSteps);
    connect(mend, &MendDesk::trialChanged, this, &MendPage::refreshAim);
    connect(mend, &MendDesk::measuredChanged, this, &MendPage::refreshSteps);
    for (auto signal : {&MendDesk::measuredChanged, &MendDesk::poseChanged, &MendDesk::curesChanged})
        connect(mend, signal, this, &MendPage::refreshNumbers);
    for (auto signal : {&MendDesk::madeChanged, &MendDesk::poseChanged, &MendDesk::curesChanged})
        connect(mend, signal, this, &MendPage::refreshView);
    connect(mend, &MendDesk::savedChanged, this, &MendPage::refreshSteps);
    connect(run, &RunDesk::runChanged, this, &MendPage::refreshAim);
    connect(log, &LogDesk::stateChanged, this, &MendPage::refreshSteps);
    if (viewport_) {
        connect(&mend->buildView(), &PoseView::subjectChanged, this, [this] { joined_ = false; });
        connect(&mend->buildView(), &PoseView::frameReady, this, &MendPage::join);
        for (Viewport* v : {viewport_, buildViewport_}) {
            v->setLimits(run->limits());
            connect(run, &RunDesk::limitsChanged, v, [this, v] { v->setLimits(run_->limits()); });
            connect(v, &Viewport::viewChanged, this, [this, v] {
                if (!following_ && joined_)
                    leads_ = v;
                follow();
            });
            connect(v, &Viewport::painted, this, [this, v] { // while it eases
                if (v == leads_)
                    follow();
            });
        }
        connect(brush_, &BrushTool::changed, this, &MendPage::refreshView);
        connect(brush_, &BrushTool::pointed, this, &MendPage::refreshShares);
        connect(marking_, &MarkingTool::markedChanged, this, &MendPage::refreshShares);
        connect(viewport_, &Viewport::viewChanged, this, &MendPage::refreshView);
        connect(viewport_, &Viewport::skinPressed, this, [this](std::uint32_t vertex) {
            // "what moves this?": the joint with most of it comes in hand
            const auto& s = mend_->view().subject();
            const std::vector<Share> here = meanShares(*s, {s->surface.weldOf[vertex]});
            if (!here.empty())
                mend_->takeInHand(here.front().joint);
        });
    }
    qApp->installEventFilter(this); // to hear "before" let go
    refreshAim();
    refreshSteps();
    refreshNumbers();
    refreshView();
}

MendPage::~MendPage() { qApp->removeEventFilter(this); }

QString MendPage::count() const {
    const auto n = mend_->trial().steps.size();
    return n == 0 ? QString() : n == 1 ? tr("1 step") : tr("%n steps", nullptr, int(n));
}

QWidget* MendPage::buildLeft() {
    auto* side = new QWidget;
    setTextLeast(side, 320, 420);
    auto* outer = new QVBoxLayout(side);
    outer->setContentsMargins(0, 0, 0, 0);
    auto* inside = new QWidget; // with large text all of it scrolls
    outer->addWidget(scrolled(inside));
    auto* all = new QVBoxLayout(inside);
    all->setContentsMargins(0, 10, 0, 0);
    all->setSpacing(4);
    auto* head = new QVBoxLayout;
    head->setContentsMargins(20, 0, 16, 0);
    head->setSpacing(2);
    aim_ = wrapped(QStringLiteral("mendAim"));
    setType(aim_, 1.15, true);
    head->addWidget(aim_);
    notes_ = wrapped(QStringLiteral("mendNotes"));
    notes_->setProperty("quiet", true);
    head->addWidget(notes_);
    auto* which = new FlowLayout(4);
    trials_ = wordButton(which, {}, QStringLiteral("mendTrials"), tr("The trials on this build"));
    auto* menu = new QMenu(trials_);
    trials_->setMenu(menu);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] { fillTrials(menu); });
    head->addLayout(which);
    all->addLayout(head);
    all->addWidget(hairline());
    auto* list = new QVBoxLayout;
    list->setContentsMargins(20, 8, 12, 8);
    list->setSpacing(8);
    list->addWidget(new Proposals(mend_));
    auto* stepsHead = new FlowLayout(10);
    stepsTitle_ = new QLabel(tr("Steps of this trial"));
    setType(stepsTitle_, 1.0, true);
    stepsHead->addWidget(stepsTitle_);
    gone_ = new QLabel;
    gone_->setObjectName(QStringLiteral("mendGone"));
    gone_->setProperty("quiet", true);
    stepsHead->addWidget(gone_);
    list->addLayout(stepsHead);
    steps_ = new StepList(mend_);
    if (viewport_)
        connect(steps_, &StepList::chosenChanged, this, [this] {
            jointTool_->setStep(steps_->chosen());
            axisTool_->setStep(steps_->chosen());
        });
    list->addWidget(steps_);
    list->addStretch(1);
    all->addLayout(list, 1);
    all->addWidget(hairline());
    auto* verbs = new FlowLayout(2);
    verbs->setContentsMargins(14, 2, 12, 8);
    auto* foot = new QWidget;
    foot->setLayout(verbs);
    const std::tuple<MendVerb, QString, const char*, QString> wants[] = {
        {MendVerb::Softer, tr("softer"), "verbSofter", tr("Evens the weights out with their neighbours")},
        {MendVerb::Narrower, tr("narrower"), "verbNarrower",
         tr("The passage from the joint above to the one in hand")},
        {MendVerb::Wider, tr("wider"), "verbWider",
         tr("The passage from the joint above to the one in hand")},
        {MendVerb::FromParent, tr("from parent to child"), "verbFromParent",
         tr("A part of what the joint above holds goes to the joint in hand")},
        {MendVerb::Pass, tr("an even passage"), "verbPass",
         tr("Lets the skin pass to the joint in hand over so many limb radii")},
        {MendVerb::OtherSide, tr("as the other side"), "verbOtherSide", {}},
        {MendVerb::KeepOut, tr("keep out"), "verbKeepOut", tr("The joint in hand holds nothing there")},
        {MendVerb::FromNeighbours, tr("from the neighbours"), "verbFromNeighbours",
         tr("Takes what the skin around it says")},
        {MendVerb::Fill, tr("fill out"), "verbFill", tr("All of it to the joint in hand")},
        {MendVerb::Stiff, tr("stiff"), "verbStiff", tr("Nothing but the joint in hand")}};
    for (const auto& [verb, words, name, tip] : wants) {
        auto* b = wordButton(verbs, words, QLatin1String(name), tip);
        setType(b, 0.95);
        needRun_.push_back(b);
        connect(b, &QPushButton::clicked, this, [this, v = verb] { applyVerb(v); });
    }
    auto* here = wordButton(verbs, tr("at this angle…"), QStringLiteral("verbHere"),
                            tr("Shapes that fade in where the strip stands, and joints that help there"));
    setType(here, 0.95);
    needRun_.push_back(here);
    auto* shapes = new QMenu(here);
    here->setMenu(shapes);
    for (const auto& [words, verb] :
         {std::pair(tr("shape the skin, as rigid as it can be"), MendVerb::ShapeHere),
          std::pair(tr("bring the skin out"), MendVerb::BringOut),
          std::pair(tr("bring the skin in"), MendVerb::BringIn),
          std::pair(tr("even it out"), MendVerb::EvenHere), std::pair(tr("lay it flat"), MendVerb::FlatHere),
          std::pair(tr("out of the flesh it lies in"), MendVerb::OutOfFlesh),
          std::pair(tr("a joint that makes half of the turn"), MendVerb::HalfTurn),
          std::pair(tr("a joint that fills the bend out"), MendVerb::FillOut)})
        shapes->addAction(words, this, [this, v = verb] { applyVerb(v); });
    auto* more = wordButton(verbs, tr("more…"), QStringLiteral("verbMore"));
    setType(more, 0.95);
    needRun_.push_back(more);
    auto* rest = new QMenu(more);
    more->setMenu(rest);
    rest->addAction(tr("a garment, as the skin below"), this, [this] { applyVerb(MendVerb::AsBelow); });
    rest->addAction(tr("bind anew"), this, [this] { applyVerb(MendVerb::BindAnew); });
    rest->addAction(tr("drop small influences"), this, [this] { applyVerb(MendVerb::DropSmall); });
    rest->addAction(tr("at most so many influences"), this, [this] { applyVerb(MendVerb::Cap); });
    rest->addAction(tr("the joint to the middle of its skin"), this, [this] { applyVerb(MendVerb::Centre); });
    rest->addAction(tr("turn what the joint bends about"), this, [this] { applyVerb(MendVerb::Axes); });
    rest->addAction(tr("share the roll of the joint in hand out"), this,
                    [this] { applyVerb(MendVerb::ShareRoll); });
    rest->addAction(tr("follow as the other side does"), this, [this] { applyVerb(MendVerb::FollowOther); });
    rest->addAction(tr("smooth the posed skin, its detail kept"), this,
                    [this] { applyVerb(MendVerb::SmoothAfter); });
    rest->addAction(tr("skin by dual quaternions"), this, [this] { applyVerb(MendVerb::ByDual); });
    rest->addSeparator();
    rest->addAction(tr("all that can be cured"), mend_, &MendDesk::cureAll);
    all->addWidget(foot);
    return side;
}

QWidget* MendPage::buildMiddle() {
    auto* middle = new QWidget;
    auto* all = new QVBoxLayout(middle);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    auto* bar = new QWidget;
    auto* words = new FlowLayout(4);
    bar->setLayout(words);
    words->setContentsMargins(12, 5, 10, 2);
    shown_ = new QLabel;
    shown_->setObjectName(QStringLiteral("mendShown"));
    setType(shown_, 1.05, true);
    words->addWidget(shown_);
    colours_ = new QComboBox;
    colours_->setObjectName(QStringLiteral("mendColours"));
    colours_->setAccessibleName(tr("Colours of the skin"));
    for (Colouring c : {Colouring::Strain, Colouring::Volume, Colouring::Pinch, Colouring::Contact,
                        Colouring::PokeThrough, Colouring::Gap, Colouring::Roughness, Colouring::Leak,
                        Colouring::Lag, Colouring::Weight, Colouring::Influences, Colouring::Own})
        colours_->addItem(nameOf(c), static_cast<int>(c));
    words->addWidget(colours_);
    before_ = wordButton(words, tr("before"), QStringLiteral("mendBefore"),
                         tr("While it is held: the build as it came"));
    needRun_.push_back(before_);
    connect(before_, &QPushButton::pressed, this, [this] { mend_->showBefore(true); });
    connect(before_, &QPushButton::released, this, [this] { mend_->showBefore(false); });
    beside_ = wordToggle(words, tr("beside"), QStringLiteral("mendBeside"));
    beside_->setToolTip(tr("The build as it came beside what is tried, in one pose under one camera"));
    needRun_.push_back(beside_);
    connect(beside_, &QPushButton::toggled, this, &MendPage::showBeside);
    all->addWidget(bar);
    if (!viewport_) {
        all->addWidget(noOpenGl(tr("Proposals, steps, verbs and numbers work as ever.")), 1);
    } else {
        brushLine_ = new BrushLine(brush_, marking_, mend_);
        needRun_.push_back(brushLine_);
        connect(brushLine_, &BrushLine::weightsWanted, this, [this] { setColouring(Colouring::Weight); });
        all->addWidget(brushLine_);
        auto* sides = new QHBoxLayout;
        sides->setSpacing(1);
        sides->addWidget(buildViewport_, 1);
        sides->addWidget(viewport_, 1);
        all->addLayout(sides, 1);
        legend_ = new Legend;
        all->addWidget(legend_);
        connect(colours_, &QComboBox::activated, this,
                [this] { setColouring(static_cast<Colouring>(colours_->currentData().toInt())); });
    }
    strip_ = new MendStrip(mend_);
    strip_->setObjectName(QStringLiteral("mendStrip"));
    strip_->setFocusPolicy(Qt::StrongFocus);
    all->addWidget(strip_);
    return middle;
}

QWidget* MendPage::buildRight() {
    auto* inside = new QWidget;
    auto* all = new QVBoxLayout(inside);
    all->setContentsMargins(16, 10, 14, 8);
    all->setSpacing(8);
    numbers_ = new MeasureTable;
    numbers_->setMostRows(6);
    all->addWidget(numbers_);
    connect(numbers_, &MeasureTable::colouringWanted, this, &MendPage::setColouring);
    shares_ = new JointShares(mend_);
    all->addWidget(shares_);
    elsewhere_ = new Elsewhere(mend_, run_);
    all->addWidget(elsewhere_);
    all->addStretch(1);
    all->addWidget(hairline());
    auto* out = new FlowLayout(4);
    propose_ = wordButton(out, tr("Send as a proposal"), QStringLiteral("mendPropose"),
                          tr("To the defect in the log: steps, numbers, and the trial itself"));
    propose_->setProperty("strong", true);
    connect(propose_, &QPushButton::clicked, this, &MendPage::propose);
    const auto verb = [&](const QString& words, const char* name, auto does) {
        auto* b = wordButton(out, words, QLatin1String(name));
        needRun_.push_back(b);
        connect(b, &QPushButton::clicked, this, does);
    };
    verb(tr("Save as a new build…"), "mendSaveBuild", &MendPage::saveBuild);
    verb(tr("See it in Compare"), "mendInCompare", &MendPage::compareTrialWanted);
    verb(tr("Recipe for the rigger…"), "mendRecipe", &MendPage::saveRecipe);
    verb(tr("Weights…"), "mendWeights", &MendPage::saveWeights);
    openSaved_ = wordButton(out, tr("Open the new build"), QStringLiteral("mendOpenSaved"));
    compareSaved_ = wordButton(out, tr("Compare with it"), QStringLiteral("mendCompareSaved"));
    connect(openSaved_, &QPushButton::clicked, this, [this] { emit buildWanted(mend_->savedBuild()); });
    connect(compareSaved_, &QPushButton::clicked, this,
            [this] { emit compareFileWanted(mend_->savedBuild()); });
    all->addLayout(out);
    auto* side = new QWidget;
    setTextLeast(side, 310, 440);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(scrolled(inside));
    return side;
}

void MendPage::fillTrials(QMenu* menu) {
    menu->clear();
    for (const KeptTrial& k : mend_->kept()) {
        const QString name = nameOf(k.trial);
        const auto n = k.trial.steps.size();
        menu->addAction(n == 1 ? tr("%1: 1 step").arg(name) : tr("%1: %n steps", nullptr, int(n)).arg(name),
                        this, [this, path = k.path] { mend_->openTrial(path); });
    }
    if (!menu->isEmpty())
        menu->addSeparator();
    menu->addAction(tr("a trial for nothing in particular"), this, [this] { mend_->beginFor(-1); });
    if (const auto& run = run_->run(); run && !run->cancelled && mend_->whyNot().isEmpty()) {
        auto* faults = menu->addMenu(tr("a trial for a fault of the run"));
        constexpr std::size_t most = 20;
        for (std::size_t i = 0; i < std::min(most, run->faults.size()); ++i)
            faults->addAction(menu->fontMetrics().elidedText(
                                  QString::fromStdString(
                                      sentence(*build_->subject(), run->plan, run->findings, run->faults[i])),
                                  Qt::ElideRight, px(520)),
                              this, [this, sign = run->faults[i].signs.front()] { mend_->beginFor(sign); });
        faults->setEnabled(!run->faults.empty());
    }
    menu->addSeparator();
    auto* name = menu->addAction(tr("name this trial…"), this, [this] {
        bool taken = false;
        const QString text =
            QInputDialog::getText(this, tr("Name this trial"), tr("It is found by this name"),
                                  QLineEdit::Normal, QString::fromStdString(mend_->trial().name), &taken);
        if (taken)
            mend_->rename(text);
    });
    name->setEnabled(mend_->begun());
    menu->addAction(tr("save its steps…"), this, [this] { saveTrial(); })->setEnabled(mend_->begun());
    menu->addAction(tr("take steps from a file…"), this, [this] { takeTrial(); });
}

void MendPage::refreshAim() {
    const QString why = mend_->whyNot();
    const bool can = why.isEmpty();
    aim_->setText(!can ? why : mend_->begun() ? mend_->aimWords() : tr("Nothing is being mended yet."));
    const QString notes =
        !can ? QString()
        : mend_->begun()
            ? mend_->aimNotes()
            : tr("Press “Try to mend it” at a fault on Review or a defect in the Log, or choose one here. "
                 "Proposals come, each tried on every motion it touches; a verb or a stroke is a step of "
                 "your own.");
    notes_->setText(notes);
    notes_->setVisible(!notes.isEmpty());
    const Trial& trial = mend_->trial();
    trials_->setText(!trial.name.empty() ? QString::fromStdString(trial.name)
                     : mend_->begun()    ? tr("this trial…")
                                         : tr("choose what to mend…"));
    trials_->setVisible(can);
    for (QWidget* w : needRun_)
        w->setEnabled(can);
    static const char* const kLooked = "looked";
    if (const Finding* f = mend_->told(); f && property(kLooked).toInt() != f->joint + 1) {
        setProperty(kLooked, f->joint + 1);
        lookAtAim();
    }
    emit countChanged();
    refreshNumbers();
    refreshShares();
}

void MendPage::lookAtAim() {
    const Finding* f = mend_->told();
    const Motion* m = mend_->motionShown();
    if (!viewport_ || !f || !m || !mend_->view().subject())
        return;
    viewport_->frameOnceShown({f->joint}, bestLook(*mend_->view().subject(), *m, f->joint), f->triangles);
}

void MendPage::refreshSteps() {
    const bool any = !mend_->trial().steps.empty();
    stepsTitle_->setVisible(any);
    gone_->setVisible(any);
    const TrialMeasured* r = mend_->result();
    QString words;
    if (mend_->measuring())
        words = tr("measuring…");
    else if (r && mend_->shownCure() < 0 && r->effect.troubleWas > 0) {
        const long percent = std::lround(100 * std::abs(r->effect.gone()));
        words = r->effect.gone() >= 0 ? tr("%1 % of the trouble is gone").arg(percent)
                                      : tr("%1 % more trouble").arg(percent);
    }
    gone_->setText(words);
    propose_->setEnabled(mend_->canPropose());
    propose_->setText(mend_->trial().aim.defect > 0
                          ? tr("Propose it for defect %1").arg(mend_->trial().aim.defect)
                          : tr("Log it with this proposal"));
    const bool saved = !mend_->savedBuild().isEmpty();
    openSaved_->setVisible(saved);
    compareSaved_->setVisible(saved);
    emit countChanged();
}

void MendPage::refreshNumbers() {
    const MendDesk::Sides sides = mend_->sides();
    if (!sides.sides[1].run || sides.motion[1] < 0)
        return numbers_->show(std::nullopt);
    ComparedPose pose;
    pose.sides = sides.sides;
    pose.motion = sides.motion;
    // the measures are told at the joint the motion is for; what is in hand may be another
    const Motion* m = mend_->motionShown();
    const Finding* f = mend_->told();
    const int joint = f && std::any_of(m->turns.begin(), m->turns.end(),
                                       [&](const JointTurn& t) { return t.joint == f->joint; })
                          ? f->joint
                          : m->turns.front().joint;
    pose.joint = {joint, joint};
    pose.at = mend_->poseAt();
    pose.names = {tr("before"), mend_->shownCure() >= 0 ? tr("proposed") : tr("now")};
    numbers_->show(pose);
}

void MendPage::refreshShares() {
    if (!viewport_)
        return;
    if (const auto at = brush_->pointedAt())
        return shares_->show({*at}, tr("under the brush"));
    const auto marks = marked();
    shares_->show(marks, marks.empty() ? QString() : tr("of what is marked"));
}

void MendPage::refreshView() {
    const Motion* m = mend_->motionShown();
    QString words;
    if (m)
        words = tr("%1, %2").arg(QString::fromStdString(wordsFor(*m)),
                                 QString::fromStdString(wordsFor(*m, mend_->poseAt())));
    if (mend_->beforeShown())
        words = tr("%1: before").arg(words);
    else if (mend_->shownCure() >= 0)
        words = tr("%1: proposed").arg(words);
    shown_->setText(words);
    // two characters need room for each; its key has it
    beside_->setVisible(viewport_ && Theme::current().textScale < 1.7);
    if (!viewport_)
        return;
    colours_->setCurrentIndex(std::max(0, colours_->findData(static_cast<int>(viewport_->colouring()))));
    if (mend_->view().subject())
        legend_->show(viewport_->colouring(), viewport_->scale(), viewport_->measuring());
    // between two true vertices there is nothing to bend: while weights are changed they are seen
    Shown shown = viewport_->shown();
    shown.vertices = viewport_->colouring() == Colouring::Weight || brush_->does() != BrushDoes::Nothing;
    if (shown != viewport_->shown())
        viewport_->setShown(shown);
}

// One camera: the viewport whose view was changed last leads, the other one follows.
void MendPage::follow() {
    if (following_ || !joined_ || !leads_ || !mend_->besideShown())
        return;
    Viewport* other = leads_ == viewport_ ? buildViewport_ : viewport_;
    const Camera &from = leads_->camera(), &is = other->camera();
    if (!other->view()->subject() || (is.yaw == from.yaw && is.pitch == from.pitch &&
                                      is.distance == from.distance && is.target == from.target))
        return;
    following_ = true;
    other->setCamera(from, false);
    following_ = false;
}

// A character that comes in is framed by its viewport; from then on it is seen as what is tried is.
void MendPage::join() {
    const PoseView& view = mend_->buildView();
    if (joined_ || !view.subject() || !view.frame() || view.frame()->subject != view.subject())
        return;
    joined_ = true;
    leads_ = viewport_;
    follow();
}

void MendPage::showBeside(bool on) {
    mend_->setBesideShown(on);
    if (!buildViewport_)
        return;
    buildViewport_->setVisible(on);
    buildViewport_->setColouring(viewport_->colouring());
    leads_ = viewport_;
    join();
    follow();
    refreshView();
}

void MendPage::setColouring(Colouring c) {
    if (!viewport_)
        return;
    viewport_->setColouring(c);
    buildViewport_->setColouring(c);
    refreshView();
}

std::vector<std::uint32_t> MendPage::marked() const {
    std::vector<std::uint32_t> out;
    const auto& s = mend_->view().subject();
    if (!marking_ || !s)
        return out;
    for (std::uint32_t t : marking_->marked())
        out.insert(out.end(), s->surface.triangles[t].begin(), s->surface.triangles[t].end());
    std::sort(out.begin(), out.end());
    out.erase(std::unique(out.begin(), out.end()), out.end());
    return out;
}

void MendPage::applyVerb(MendVerb verb) { mend_->apply(verb, marked()); }

void MendPage::stepAngle(int by) {
    if (const Motion* m = mend_->motionShown())
        mend_->setPose(mend_->motion(), stepBeside(*m, mend_->poseAt(), by > 0));
}

void MendPage::goTo(double at) { mend_->setPose(mend_->motion(), at); }

void MendPage::stepMotion(int by) {
    const RunResult* run = mend_->buildRun();
    if (!run)
        return;
    const int n = static_cast<int>(run->plan.motions.size());
    for (int m = mend_->motion() + by; m >= 0 && m < n; m += by)
        if (!run->motions[static_cast<std::size_t>(m)].steps.empty())
            return mend_->setPose(m, run->plan.motions[static_cast<std::size_t>(m)].limit());
}

bool MendPage::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyRelease && mend_->beforeShown() && beforeAction_) {
        const auto* key = static_cast<QKeyEvent*>(event);
        const QKeySequence keys = beforeAction_->shortcut();
        if (!key->isAutoRepeat() && !keys.isEmpty() && keys[0].key() == key->key())
            mend_->showBefore(false);
    }
    return Page::eventFilter(watched, event);
}

void MendPage::restyle() {
    if (legend_) // with the largest text the character comes before its scale
        legend_->setVisible(Theme::current().textScale < 1.7);
    if (brushLine_)
        brushLine_->restyle();
    refreshAim();
    refreshSteps();
    refreshNumbers();
    refreshView();
    elsewhere_->refresh();
}

QJsonObject MendPage::placeToKeep() const {
    const Motion* m = mend_->motionShown();
    return m ? QJsonObject{{QStringLiteral("motion"), QString::fromStdString(m->id)},
                           {QStringLiteral("at"), mend_->poseAt()}}
             : QJsonObject();
}

void MendPage::goBackTo(const QJsonObject& place) {
    if (!mend_->buildRun())
        return;
    const int motion =
        mend_->buildRun()->plan.find(place.value(QStringLiteral("motion")).toString().toStdString());
    if (motion >= 0)
        mend_->setPose(motion, place.value(QStringLiteral("at")).toDouble());
}

} // namespace hobble
