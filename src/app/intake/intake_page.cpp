#include "app/intake/intake_page.h"

#include "app/checked/checked_line.h"
#include "app/coverage/coverage_line.h"
#include "app/intake/builds_pane.h"
#include "app/intake/check_delegate.h"
#include "app/intake/intake_limits_dialog.h"
#include "app/intake/score_line.h"
#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "app/widgets/parts.h"
#include "app/words.h"

#include <QCheckBox>
#include <QComboBox>
#include <QEvent>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QJsonObject>
#include <QLabel>
#include <QListView>
#include <QPushButton>
#include <QScrollArea>
#include <QSplitter>
#include <QStackedWidget>
#include <QTableView>
#include <QVBoxLayout>

namespace hobble {

IntakePage::IntakePage(BuildDesk* build, PlanDesk* plan, LogDesk* log, CompareDesk* compare, QWidget* start,
                       QWidget* parent)
    : Page(parent), build_(build), plan_(plan), log_(log) {
    setAccessibleName(tr("Intake"));
    checked_ = new CheckedLine(compare, this);
    connect(checked_, &CheckedLine::wanted, this, [this] { emit compareWanted(0, 0); });
    checkModel_ = new CheckModel(build, log, this);
    jointModel_ = new JointModel(build, this);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    whole_ = new QStackedWidget;
    all->addWidget(whole_);

    auto* right = new QWidget;
    auto* column = new QVBoxLayout(right);
    column->setContentsMargins(14, 10, 14, 8);
    column->setSpacing(8);
    column->addWidget(buildCard());
    column->addWidget(hairline());
    auto* tabs = new QHBoxLayout;
    jointsTab_ = new QPushButton(tr("Joints"));
    jointsTab_->setObjectName(QStringLiteral("intakeJoints"));
    buildsTab_ = new QPushButton(tr("Builds"));
    buildsTab_->setObjectName(QStringLiteral("intakeBuilds"));
    for (QPushButton* b : {jointsTab_, buildsTab_}) {
        b->setCheckable(true);
        tabs->addWidget(b);
    }
    tabs->addStretch();
    connect(jointsTab_, &QPushButton::clicked, this, &IntakePage::showJoints);
    connect(buildsTab_, &QPushButton::clicked, this, &IntakePage::showBuilds);
    column->addLayout(tabs);
    side_ = new QStackedWidget;
    side_->addWidget(buildJoints());
    builds_ = new BuildsPane(build, log);
    connect(builds_, &BuildsPane::openWanted, this, &IntakePage::characterWanted);
    connect(builds_, &BuildsPane::compareWanted, this, [this](qint64 with) { emit compareWanted(with, 0); });
    side_->addWidget(builds_);
    column->addWidget(side_, 1);
    setTextLeast(right, 290, 360);
    whole_->addWidget(start);
    whole_->addWidget(columns({buildLeft(), buildMiddle(), right}, 1, {380, 580, 320}));

    connect(build_, &BuildDesk::intakeChanged, this, &IntakePage::refresh);
    connect(build_, &BuildDesk::characterChanged, this, [this] {
        const auto s = build_->buildSubject();
        if (joints_ && s->character->hash != shownHash_) // of the same, only what its joints are has changed
            joint_ = -1;
        shownHash_ = s->character->hash;
        refresh();
        if (pointing_ && joint_ >= 0)
            pointing_->pointAt(joint_, {});
    });
    connect(build_, &BuildDesk::checkChanged, this, [this] {
        refreshCard();
        const int check = build_->check();
        if (checks_->currentIndex().row() != check)
            checks_->setCurrentIndex(check < 0 ? QModelIndex() : checkModel_->index(check));
        if (!pointing_)
            return;
        if (check >= 0) {
            const CheckFinding& f = build_->checks()[static_cast<std::size_t>(check)];
            pointing_->pointAt(f.joint, f.vertices);
            chooseJoint(f.joint);
        } else {
            pointing_->pointAt(-1, {});
        }
        pointing_->frame();
    });
    connect(log_, &LogDesk::logChanged, this, &IntakePage::refreshCard);
    showJoints();
    refresh();
}

QWidget* IntakePage::buildLeft() {
    auto* left = new QWidget;
    setTextLeast(left, 330, 430);
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(20, 10, 10, 6);
    column->setSpacing(4);
    score_ = new QLabel;
    score_->setObjectName(QStringLiteral("intakeScore"));
    score_->setTextFormat(Qt::PlainText);
    score_->setWordWrap(true);
    setType(score_, 1.35, true);
    column->addWidget(score_);
    summary_ = wrapped(QStringLiteral("intakeSummary"));
    summary_->setProperty("quiet", true);
    column->addWidget(summary_);
    column->addWidget(new CoverageLine(build_, plan_));
    column->addWidget(checked_);
    auto* line = new ScoreLine(build_, log_);
    line->setObjectName(QStringLiteral("scoreLine"));
    column->addWidget(line);
    connect(build_, &BuildDesk::intakeChanged, line, [this, line] {
        int scored = 0;
        for (const BuildState& b : build_->builds())
            scored += b.score >= 0;
        line->setVisible(scored > 1); // one build makes no line
    });
    line->hide();
    checks_ = new QListView;
    checks_->setObjectName(QStringLiteral("checkList"));
    checks_->setAccessibleName(tr("Checks"));
    checks_->setModel(checkModel_);
    checks_->setItemDelegate(new CheckDelegate(checks_));
    checks_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    checks_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    checks_->setResizeMode(QListView::Adjust);
    checks_->setFrameShape(QFrame::NoFrame);
    checks_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    column->addWidget(checks_, 1);
    connect(checks_->selectionModel(), &QItemSelectionModel::currentChanged, this,
            [this](const QModelIndex& at) {
                if (at.isValid() && checkModel_->kindOf(at.row()) == CheckModel::Kind::Failing &&
                    at.row() != build_->check())
                    build_->selectCheck(at.row());
            });
    const auto fold = [this](const QModelIndex& at) {
        if (checkModel_->kindOf(at.row()) == CheckModel::Kind::Fold)
            togglePassed();
        else if (checkModel_->kindOf(at.row()) == CheckModel::Kind::Failing)
            build_->selectCheck(at.row()); // pressed again: it is to be framed again
    };
    connect(checks_, &QListView::clicked, this, fold);
    connect(checks_, &QListView::activated, this, [this](const QModelIndex& at) {
        if (checkModel_->kindOf(at.row()) == CheckModel::Kind::Fold)
            togglePassed();
    });
    notes_ = wrapped(QStringLiteral("intakeNotes"));
    notes_->setProperty("quiet", true);
    setType(notes_, 0.92);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidget(notes_);
    scroll->setMaximumHeight(110);
    scroll->setMinimumHeight(14); // both lists give way before words are cut
    checks_->setMinimumHeight(26);
    scroll->setFocusPolicy(Qt::NoFocus);
    notes_->setAlignment(Qt::AlignTop);
    column->addWidget(hairline());
    column->addWidget(scroll);
    column->addWidget(buildPlacing());
    return left;
}

// In what unit and with which axis up the file was made, where its format leaves that open; the character
// beside is the preview.
QWidget* IntakePage::buildPlacing() {
    placing_ = new QWidget;
    auto* row = new FlowLayout(6);
    row->setContentsMargins(0, 2, 0, 0);
    placing_->setLayout(row);
    height_ = new QLabel;
    height_->setObjectName(QStringLiteral("bodyHeight"));
    row->addWidget(height_);
    const auto combo = [&](const char* name, const QString& said) {
        auto* c = new QComboBox;
        c->setObjectName(QLatin1String(name));
        c->setAccessibleName(said);
        c->setToolTip(said);
        setType(c, 0.95);
        row->addWidget(c);
        connect(c, &QComboBox::activated, this, &IntakePage::place);
        return c;
    };
    unit_ = combo("fileUnit", tr("The unit the file was made in"));
    unit_->addItem(tr("unit as the file says"), 0.0);
    for (const auto& [words, metres] : {std::pair(tr("metres"), 1.0),
                                        {tr("centimetres"), 0.01},
                                        {tr("millimetres"), 0.001},
                                        {tr("inches"), 0.0254}})
        unit_->addItem(words, metres);
    up_ = combo("fileUp", tr("The axis that is up in the file"));
    up_->addItem(tr("up as the file says"), -1);
    for (int axis = 0; axis < 3; ++axis)
        up_->addItem(tr("%1 is up").arg(QChar(u'X' + axis)), axis);
    return placing_;
}

void IntakePage::place() {
    build_->setPlacing({unit_->currentData().toDouble(), up_->currentData().toInt()});
}

void IntakePage::refreshPlacing() {
    placing_->setVisible(build_->mayBePlaced());
    if (!build_->mayBePlaced())
        return;
    const Placing placing = build_->placing();
    unit_->setCurrentIndex(std::max(0, unit_->findData(placing.metresPerUnit)));
    up_->setCurrentIndex(std::max(0, up_->findData(placing.up)));
    height_->setText(tr("%1 m high").arg(build_->buildSubject()->body.height, 0, 'g', 3));
}

QWidget* IntakePage::buildMiddle() {
    auto* middle = new QWidget;
    auto* column = new QVBoxLayout(middle);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* bar = new QWidget;
    auto* row = new FlowLayout(4);
    bar->setLayout(row);
    row->setContentsMargins(10, 4, 10, 4);
    const auto word = [&](const QString& text, const char* name, auto&& does) {
        auto* b = wordToggle(row, text, QLatin1String(name));
        connect(b, &QPushButton::toggled, this, does);
        return b;
    };
    if (Viewport::supported()) {
        viewport_ = new Viewport(&build_->view());
        viewport_->setObjectName(QStringLiteral("intakeViewport"));
        viewport_->setAccessibleName(tr("Character in neutral"));
        viewport_->setColouring(Colouring::Own);
        pointing_ = new PointingTool(viewport_);
        Shown shown;
        shown.skeleton = false;
        viewport_->setShown(shown);
        connect(pointing_, &PointingTool::jointPressed, this, [this](int joint) {
            pointing_->pointAt(joint, {});
            chooseJoint(joint);
            showJoints();
        });
        word(tr("what joints are"), "showRoles", [this](bool on) {
            pointing_->setRolesShown(on);
        })->setChecked(true);
        word(tr("wire"), "intakeWire", [this](bool on) {
            Shown s = viewport_->shown();
            s.wire = on;
            viewport_->setShown(s);
        });
        word(tr("influences"), "intakeInfluences",
             [this](bool on) { viewport_->setColouring(on ? Colouring::Influences : Colouring::Own); });
        connect(wordButton(row, tr("whole character"), QStringLiteral("intakeWhole")), &QPushButton::clicked,
                this, [this] { viewport_->frameAll(); });
        column->addWidget(bar);
        column->addWidget(viewport_, 1);
    } else {
        column->addWidget(noOpenGl(tr("The checks are made all the same.")), 1);
    }
    return middle;
}

QWidget* IntakePage::buildCard() {
    auto* card = new QWidget;
    auto* column = new QVBoxLayout(card);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    cardTitle_ = wrapped(QStringLiteral("checkTitle"));
    setType(cardTitle_, 1.12, true);
    cardWords_ = wrapped(QStringLiteral("checkWords"));
    cardPlace_ = wrapped(QStringLiteral("checkPlace"));
    cardPlace_->setProperty("quiet", true);
    cardAdvice_ = wrapped(QStringLiteral("checkAdvice"));
    tell_ = new QPushButton;
    tell_->setObjectName(QStringLiteral("tellRigger"));
    tell_->setProperty("strong", true);
    connect(tell_, &QPushButton::clicked, this, &IntakePage::tellRigger);
    mend_ = new QPushButton(tr("Mend"));
    mend_->setToolTip(tr("Try what would take it away"));
    mend_->setObjectName(QStringLiteral("mendCheck"));
    connect(mend_, &QPushButton::clicked, this, [this] {
        if (const int check = build_->check(); check >= 0)
            emit mendJointWanted(build_->checks()[static_cast<std::size_t>(check)].joint);
    });
    for (QWidget* w : std::initializer_list<QWidget*>{cardTitle_, cardWords_, cardPlace_, cardAdvice_})
        column->addWidget(w);
    auto* verbs = new FlowLayout(4);
    verbs->addWidget(tell_);
    verbs->addWidget(mend_);
    column->addLayout(verbs);
    return card;
}

QWidget* IntakePage::buildJoints() {
    auto* pane = new QWidget;
    auto* column = new QVBoxLayout(pane);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    offer_ = new QPushButton;
    offer_->setObjectName(QStringLiteral("useNaming"));
    offer_->setProperty("strong", true);
    connect(offer_, &QPushButton::clicked, build_, &BuildDesk::useOfferedNaming);
    column->addWidget(offer_);
    auto* head = new QHBoxLayout;
    jointsSummary_ = wrapped(QStringLiteral("jointsSummary"));
    jointsSummary_->setProperty("quiet", true);
    auto* unsure = new QCheckBox(tr("unsure only"));
    unsure->setObjectName(QStringLiteral("unsureOnly"));
    connect(unsure, &QCheckBox::toggled, jointModel_, &JointModel::setUnsureOnly);
    head->addWidget(jointsSummary_, 1);
    head->addWidget(unsure);
    column->addLayout(head);
    joints_ = new QTableView;
    joints_->setObjectName(QStringLiteral("jointTable"));
    joints_->setAccessibleName(tr("Joints"));
    joints_->setModel(jointModel_);
    joints_->setSelectionBehavior(QAbstractItemView::SelectRows);
    joints_->setSelectionMode(QAbstractItemView::SingleSelection);
    joints_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    joints_->setShowGrid(false);
    joints_->setTabKeyNavigation(false);
    joints_->setWordWrap(false);
    joints_->verticalHeader()->hide();
    joints_->verticalHeader()->setMinimumSectionSize(px(16));
    fitJointTable();
    auto* header = joints_->horizontalHeader();
    header->setHighlightSections(false);
    header->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    header->setSectionResizeMode(QHeaderView::ResizeToContents);
    header->setMinimumSectionSize(24);
    header->setSectionResizeMode(JointModel::Name, QHeaderView::Stretch);
    joints_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff); // large text is cut, and told by the tip
    column->addWidget(joints_, 1);
    connect(joints_->selectionModel(), &QItemSelectionModel::currentRowChanged, this,
            [this](const QModelIndex& at) {
                if (!at.isValid() || jointModel_->jointOf(at.row()) == joint_)
                    return;
                chooseJoint(jointModel_->jointOf(at.row()));
                if (pointing_) {
                    pointing_->pointAt(joint_, {});
                    pointing_->frame();
                }
            });
    connect(jointModel_, &QAbstractItemModel::modelReset, this, [this] {
        if (const int row = jointModel_->rowOf(joint_); row >= 0)
            joints_->selectRow(row);
    });
    jointName_ = wrapped(QStringLiteral("jointName"));
    column->addWidget(jointName_);
    auto* edit = new QHBoxLayout;
    role_ = new QComboBox;
    role_->setObjectName(QStringLiteral("jointRole"));
    role_->setAccessibleName(tr("What the joint is"));
    for (int r = 0; r <= static_cast<int>(Role::End); ++r)
        role_->addItem(r == 0 ? tr("not known") : inWords(nameOf(static_cast<Role>(r))), r);
    sideOf_ = new QComboBox;
    sideOf_->setObjectName(QStringLiteral("jointSide"));
    sideOf_->setAccessibleName(tr("Side of the joint"));
    for (Side s : {Side::Middle, Side::Left, Side::Right})
        sideOf_->addItem(inWords(nameOf(s)), static_cast<int>(s));
    edit->addWidget(role_, 3);
    edit->addWidget(sideOf_, 2);
    column->addLayout(edit);
    // Typing goes through several roles on the way to the one that is meant.
    corrects_.setSingleShot(true);
    corrects_.setInterval(400);
    connect(&corrects_, &QTimer::timeout, this, &IntakePage::correct);
    connect(role_, &QComboBox::activated, &corrects_, qOverload<>(&QTimer::start));
    connect(sideOf_, &QComboBox::activated, &corrects_, qOverload<>(&QTimer::start));
    return pane;
}

// Rows grow with the text; where it is large, the joint's name goes before what its boxes say too.
void IntakePage::fitJointTable() {
    joints_->verticalHeader()->setDefaultSectionSize(px(25));
    joints_->setColumnHidden(JointModel::Sure, Theme::current().textScale > 1.3);
    joints_->setColumnHidden(JointModel::SideColumn, Theme::current().textScale > 1.6);
}

void IntakePage::changeEvent(QEvent* event) {
    QWidget::changeEvent(event);
    if (event->type() == QEvent::StyleChange && joints_)
        fitJointTable();
}

void IntakePage::refresh() {
    const auto s = build_->buildSubject();
    whole_->setCurrentIndex(s ? 1 : 0);
    if (!s)
        return;
    const int failing = checkModel_->failing(), checks = static_cast<int>(intakeChecks().size());
    score_->setText(failing == 0 ? tr("Fit to be tested: 100 of 100")
                                 : tr("Fit to be tested: %1 of 100").arg(build_->score()));
    int blocking = 0, serious = 0;
    for (const CheckFinding& f : build_->checks()) {
        blocking += f.severity == 4;
        serious += f.severity == 3;
    }
    QStringList words{failing == 0   ? tr("All %n checks passed.", nullptr, checks)
                      : failing == 1 ? tr("One thing to look at")
                                     : tr("%n things to look at", nullptr, int(failing))};
    if (blocking)
        words << tr("%1 blocking").arg(blocking);
    if (serious)
        words << tr("%1 serious").arg(serious);
    summary_->setText(words.join(QStringLiteral(", ")));
    QStringList notes;
    for (const std::string& n : s->character->notes)
        notes << QString::fromStdString(n);
    notes_->setText(notes.isEmpty() ? tr("Read without a remark.") : notes.join(QLatin1Char('\n')));

    refreshPlacing();

    const int unknown = jointModel_->unknown(), unsure = jointModel_->unsure();
    jointsSummary_->setText(
        unsure == 0 ? tr("%n joints, all known", nullptr, int(s->character->skeleton.size()))
                    : tr("%n joints, %1 unsure, %2 not known", nullptr, int(s->character->skeleton.size()))
                          .arg(unsure - unknown)
                          .arg(unknown));
    const NamingProfile* offered = build_->offeredNaming();
    offer_->setVisible(offered != nullptr);
    if (offered && build_->offersChains())
        offer_->setText(tr("The tree lies flat: take what %n joints are from their places", nullptr,
                           int(offered->corrections.size())));
    else if (offered)
        offer_->setText(tr("Named like %1: take over %2")
                            .arg(QString::fromStdString(offered->name))
                            .arg(offered->corrections.size() == 1
                                     ? tr("its correction")
                                     : tr("its %n corrections", nullptr, int(offered->corrections.size()))));
    chooseJoint(joint_);
    refreshCard();
    emit countChanged();
}

void IntakePage::refreshCard() {
    const int check = build_->check();
    const bool any = build_->buildSubject() && check >= 0;
    for (QWidget* w : std::initializer_list<QWidget*>{cardWords_, cardPlace_, cardAdvice_, tell_, mend_})
        w->setVisible(any);
    if (!any) {
        cardTitle_->setText(checkModel_->failing() ? tr("Choose a check to see where it is.")
                                                   : tr("Nothing would spoil the test."));
        return;
    }
    const CheckFinding& f = build_->checks()[static_cast<std::size_t>(check)];
    const Character& c = *build_->buildSubject()->character;
    QString title = inWords(f.check.c_str());
    title[0] = title[0].toUpper();
    cardTitle_->setText(title);
    cardWords_->setText(QString::fromStdString(f.sentence));
    cardAdvice_->setText(QString::fromStdString(f.advice));
    QStringList place;
    if (f.joint >= 0)
        place << tr("at %1").arg(QString::fromStdString(c.skeleton.name[static_cast<std::size_t>(f.joint)]));
    QStringList parts;
    qsizetype vertices = 0;
    for (const auto& [part, list] : f.vertices) {
        parts << QString::fromStdString(c.parts[static_cast<std::size_t>(part)].name);
        vertices += static_cast<qsizetype>(list.size());
    }
    if (f.part >= 0 && parts.isEmpty())
        parts << QString::fromStdString(c.parts[static_cast<std::size_t>(f.part)].name);
    if (!parts.isEmpty())
        place << tr("in %1").arg(parts.mid(0, 3).join(QStringLiteral(", ")));
    if (vertices)
        place << (vertices == 1 ? tr("one vertex") : tr("%n vertices", nullptr, int(vertices)));
    cardPlace_->setText(place.join(QStringLiteral(", ")));
    cardPlace_->setVisible(!place.isEmpty());
    const qint64 known = build_->defectOfCheck(check);
    mend_->setVisible(f.joint >= 0);
    tell_->setText(known ? tr("Logged as defect %1").arg(known) : tr("Tell the rigger"));
}

void IntakePage::chooseJoint(int joint) {
    if (joint != joint_ && corrects_.isActive()) { // what was said of the one before is not lost
        corrects_.stop();
        correct();
    }
    joint_ = joint;
    const auto s = build_->buildSubject();
    const bool any = s && joint >= 0 && joint < s->character->skeleton.size();
    role_->setEnabled(any);
    sideOf_->setEnabled(any);
    if (!any) {
        jointName_->setText(tr("Press a joint to say what it is."));
        return;
    }
    const JointRole& r = s->roles[static_cast<std::size_t>(joint)];
    const QString name = QString::fromStdString(s->character->skeleton.name[static_cast<std::size_t>(joint)]);
    jointName_->setText(*r.basis ? tr("%1, by %2").arg(name, QLatin1String(r.basis)) : name);
    if (!corrects_.isActive()) {
        role_->setCurrentIndex(role_->findData(static_cast<int>(r.role)));
        sideOf_->setCurrentIndex(sideOf_->findData(static_cast<int>(r.side)));
    }
    if (const int row = jointModel_->rowOf(joint); row >= 0 && joints_->currentIndex().row() != row)
        joints_->selectRow(row);
}

void IntakePage::correct() {
    build_->correctRole(joint_, static_cast<Role>(role_->currentData().toInt()),
                        static_cast<Side>(sideOf_->currentData().toInt()));
}

QString IntakePage::count() const {
    return build_->checks().empty() ? QString() : QString::number(build_->checks().size());
}

QString IntakePage::asksWhy() const {
    const int check = build_->check();
    return check < 0 ? QString()
                     : QStringLiteral("check ") +
                           QString::fromStdString(build_->checks()[static_cast<std::size_t>(check)].check);
}

QWidget* IntakePage::firstFocus() { return build_->subject() ? checks_ : whole_->widget(0); }

void IntakePage::addActions(ActionBook& book) {
    addAction(book, "check-on", tr("Next check that fails"), Qt::Key_Period, [this] { stepCheck(1); });
    addAction(book, "check-back", tr("Previous check that fails"), Qt::Key_Comma, [this] { stepCheck(-1); });
    addAction(book, "tell-rigger", tr("Tell the rigger of this check"), Qt::Key_L, [this] { tellRigger(); });
    addAction(book, "passed", tr("Show the checks that passed, or not"), Qt::Key_P,
              [this] { togglePassed(); });
    addAction(book, "joints", tr("Show what the joints are"), Qt::Key_J, [this] { showJoints(); });
    addAction(book, "builds", tr("Show the builds of this character"), Qt::Key_B, [this] { showBuilds(); });
    addFromAnywhere(book, "watch", tr("Watch a folder for new builds"), [this] {
        showBuilds();
        builds_->askFolder();
    });
    addFromAnywhere(book, "intake-limits", tr("Limits of Intake: what counts as unfit"),
                    [this] { showLimits(); });
}

QString IntakePage::keyLine(const ActionBook& book) const {
    if (!build_->subject()) // the start sheet
        return book.line({{{"open"}, tr("open")}, {{"manual"}, tr("manual")}, {{"keys"}, tr("all keys")}});
    return book.line({{{"check-back", "check-on"}, tr("check")},
                      {{"tell-rigger"}, tr("tell the rigger")},
                      {{"passed"}, tr("what passed")},
                      {{"open"}, tr("open")},
                      {{"undo"}, tr("undo")},
                      {{"keys"}, tr("all keys")}});
}

void IntakePage::stepCheck(int by) {
    const int n = checkModel_->failing();
    if (n == 0)
        return;
    const int now = build_->check();
    build_->selectCheck(now < 0 ? (by > 0 ? 0 : n - 1) : (now + by + n) % n);
}

void IntakePage::tellRigger() {
    const int check = build_->check();
    if (check < 0)
        return;
    if (const qint64 known = build_->defectOfCheck(check))
        return void(emit defectWanted(known));
    build_->logCheck(check, viewport_ ? viewport_->camera().toJson() : QByteArray("{}"),
                     viewport_ ? viewport_->picture() : QByteArray());
}

void IntakePage::togglePassed() { checkModel_->setUnfolded(!checkModel_->unfolded()); }

void IntakePage::showLimits() {
    if (auto* open = findChild<IntakeLimitsDialog*>())
        return open->raise();
    auto* dialog = new IntakeLimitsDialog(build_, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->show();
}

void IntakePage::showJoints() {
    jointsTab_->setChecked(true);
    buildsTab_->setChecked(false);
    side_->setCurrentIndex(0);
}

void IntakePage::showBuilds() {
    jointsTab_->setChecked(false);
    buildsTab_->setChecked(true);
    side_->setCurrentIndex(1);
}

namespace {
const QString kBuilds = QStringLiteral("builds"), kCheck = QStringLiteral("check"),
              kSentence = QStringLiteral("sentence");
}

QJsonObject IntakePage::placeToKeep() const {
    QJsonObject o{{kBuilds, buildsTab_->isChecked()}};
    if (const int c = build_->check(); c >= 0 && c < static_cast<int>(build_->checks().size())) {
        const CheckFinding& f = build_->checks()[static_cast<std::size_t>(c)];
        o.insert(kCheck, QString::fromStdString(f.check));
        o.insert(kSentence, QString::fromStdString(f.sentence)); // of several of one check, which
    }
    return o;
}

void IntakePage::goBackTo(const QJsonObject& place) {
    if (place.value(kBuilds).toBool())
        showBuilds();
    int chosen = -1;
    for (int c = static_cast<int>(build_->checks().size()) - 1; c >= 0; --c) {
        const CheckFinding& f = build_->checks()[static_cast<std::size_t>(c)];
        if (QString::fromStdString(f.check) == place.value(kCheck).toString() &&
            (chosen < 0 || QString::fromStdString(f.sentence) == place.value(kSentence).toString()))
            chosen = c;
    }
    if (chosen >= 0)
        build_->selectCheck(chosen);
}

} // namespace hobble
