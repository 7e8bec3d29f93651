#include "app/compare/compare_page.h"

#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "app/widgets/parts.h"
#include "log/date_words.h"

#include <QComboBox>
#include <QFileDialog>
#include <QJsonObject>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace hobble {

ComparePage::ComparePage(BuildDesk* build, CompareDesk* compare, MendDesk* mend, RunDesk* run, LogDesk* log,
                         QWidget* parent)
    : Page(parent), build_(build), compare_(compare), mend_(mend), run_(run), log_(log) {
    setAccessibleName(tr("Compare"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    QWidget* left = buildLeft();
    row->addWidget(columns({left, buildMiddle(), buildRight()}, 1, {395, 540, 345}));
    connect(compare, &CompareDesk::comparisonChanged, this, &ComparePage::refresh);
    connect(compare, &CompareDesk::comparisonChanged, this, &Page::countChanged);
    connect(compare, &CompareDesk::poseChanged, this, [this] { strips_->reveal(compare_->motion()); });
    connect(compare, &CompareDesk::checksChanged, this, &ComparePage::refreshVerdicts);
    connect(compare, &CompareDesk::comparisonChanged, this, &ComparePage::refreshVerdicts);
    connect(compare, &CompareDesk::poseChanged, this, &ComparePage::refreshTable);
    connect(compare, &CompareDesk::checksChanged, this, &Page::countChanged);
    connect(compare, &CompareDesk::signOffsChanged, this, &ComparePage::refreshSigned);
    connect(build, &BuildDesk::intakeChanged, this, &ComparePage::refresh);
    connect(run, &RunDesk::runChanged, this, &ComparePage::refresh);
    connect(run, &RunDesk::runChanged, this,
            [this] { // another character came in while this page was in front
                if (isVisible() && run_->run())
                    compare_->againstLastBuild();
            });
    connect(run, &RunDesk::runChanged, this, &ComparePage::refreshSigned);
    connect(verdicts_, &VerdictList::chosenChanged, this, &ComparePage::refreshVerdicts);
    sweep_.setInterval(40);
    connect(&sweep_, &QTimer::timeout, this, [this] {
        const Motion* m = compare_->motionShown();
        // both have to have come: brisk on a fast machine, and nothing queues up on a slow one
        if (!m || !compare_->now().arrived() || !compare_->before().arrived())
            return;
        constexpr int steps = 48; // there and back
        const double way = (++sweepStep_ % (2 * steps)) / double(steps);
        compare_->setPose(compare_->motion(), m->limit() * (way <= 1 ? way : 2 - way));
    });
    restyle();
    refreshVerdicts();
    refreshSigned();
}

QString ComparePage::count() const {
    QStringList parts;
    if (const auto c = compare_->comparison()) {
        if (const int better = c->differences.count(Change::Better))
            parts << tr("%1 better").arg(better);
        if (const int worse = c->differences.count(Change::Worse))
            parts << tr("%1 worse").arg(worse);
        if (const int both = c->differences.countMixed())
            parts << tr("%1 both ways").arg(both);
        if (parts.isEmpty())
            parts << tr("the same");
    } else if (const int left = compare_->left())
        parts << tr("%1 to check").arg(left);
    return parts.join(QStringLiteral(", "));
}

// As many rows as can be worked with, whatever the size of the text.
void ComparePage::restyle() {
    strips_->setMinimumHeight(px(96));
    verdicts_->setMinimumHeight(px(110));
    strips_->parentWidget()->setMinimumHeight(px(330)); // both, and what is said of a verdict
    table_->setMostRows(Theme::current().textScale < 1.4 ? 12 : 5);
    refresh();
}

void ComparePage::showEvent(QShowEvent* e) {
    Page::showEvent(e);
    compare_->againstLastBuild();
    // a trial that was gone on with meanwhile is compared as it is now
    if (const Trial* shown = compare_->trial())
        if (const Trial& now = mend_->trial(); nameOf(now) == nameOf(*shown) && now.steps != shown->steps)
            compare_->ofTrial(now);
}

QWidget* ComparePage::buildLeft() {
    auto* side = new QWidget;
    setTextLeast(side, 330, 440);
    auto* outer = new QVBoxLayout(side);
    outer->setContentsMargins(0, 0, 0, 0);
    auto* inside = new QWidget; // with large text all of it scrolls
    outer->addWidget(scrolled(inside));
    auto* all = new QVBoxLayout(inside);
    all->setContentsMargins(0, 10, 0, 0);
    all->setSpacing(4);
    auto* head = new QVBoxLayout;
    head->setContentsMargins(20, 0, 16, 0);
    head->setSpacing(4);
    auto* who = new FlowLayout(4);
    now_ = new QLabel;
    now_->setObjectName(QStringLiteral("compareNow"));
    setType(now_, 1.05);
    who->addWidget(now_);
    against_ = wordButton(who, {}, QStringLiteral("against"), tr("What it is compared with"));
    setType(against_, 1.05, true);
    auto* menu = new QMenu(against_);
    against_->setMenu(menu);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] { fillAgainst(menu); });
    head->addLayout(who);
    sentence_ = wrapped(QStringLiteral("compareSentence"));
    setType(sentence_, 1.1, true);
    head->addWidget(sentence_);
    notes_ = wrapped(QStringLiteral("compareNotes"));
    notes_->setProperty("quiet", true);
    head->addWidget(notes_);
    auto* words = new FlowLayout(4);
    const std::pair<const char*, QString> orders[] = {{"compareWorse", tr("worse")},
                                                      {"compareBetter", tr("better")},
                                                      {"compareCameBack", tr("came back")},
                                                      {"compareBody", tr("body order")}};
    for (std::size_t i = 0; i < orders_.size(); ++i) {
        orders_[i] = wordToggle(words, orders[i].second, QLatin1String(orders[i].first), i == 0);
        connect(orders_[i], &QPushButton::clicked, this, [this, i] {
            strips_->setOrder(static_cast<CompareStrips::Order>(i));
            refreshOrders();
        });
    }
    head->addLayout(words);
    all->addLayout(head);
    all->addWidget(hairline());
    auto* halves = new QSplitter(Qt::Vertical);
    halves->setHandleWidth(1);
    halves->setSizePolicy(QSizePolicy::Preferred,
                          QSizePolicy::Ignored); // what is left, not what it would like
    halves->setChildrenCollapsible(false);
    strips_ = new CompareStrips(compare_);
    strips_->setObjectName(QStringLiteral("compareStrips"));
    halves->addWidget(strips_);
    checkBox_ = new QWidget;
    auto* checks = new QVBoxLayout(checkBox_);
    checks->setContentsMargins(0, 8, 0, 0);
    checks->setSpacing(2);
    auto* title = new QVBoxLayout;
    title->setContentsMargins(20, 0, 16, 2);
    checked_ = wrapped(QStringLiteral("checked"));
    setType(checked_, 1.0, true);
    title->addWidget(checked_);
    checks->addLayout(title);
    verdicts_ = new VerdictList(compare_);
    checks->addWidget(verdicts_, 1);
    auto* verbs = new FlowLayout(4);
    auto* foot = new QWidget;
    foot->setLayout(verbs);
    verbs->setContentsMargins(14, 2, 12, 6);
    close_ = wordButton(verbs, tr("Close"), QStringLiteral("closeDefect"), tr("It is cured, or good enough"));
    keep_ = wordButton(verbs, tr("Keep"), QStringLiteral("keepDefect"),
                       tr("It stays open, with this verdict in its history"));
    back_ = wordButton(verbs, tr("Give back…"), QStringLiteral("giveBack"),
                       tr("To be fixed again, with a word why"));
    inLog_ = wordButton(verbs, tr("In the log"), QStringLiteral("checkInLog"));
    then_ = wordButton(verbs, {}, QStringLiteral("checkThen"),
                       tr("Both builds beside each other, in the defect's pose"));
    allCured_ = wordButton(verbs, {}, QStringLiteral("closeCured"));
    allCured_->setProperty("strong", true);
    checks->addWidget(foot);
    why_ = new QLineEdit;
    why_->setObjectName(QStringLiteral("giveBackWhy"));
    why_->setPlaceholderText(tr("Why? Enter gives it back"));
    why_->setAccessibleName(tr("Why it is given back"));
    why_->hide();
    auto* reason = new QHBoxLayout;
    reason->setContentsMargins(20, 0, 16, 8);
    reason->addWidget(why_);
    checks->addLayout(reason);
    halves->addWidget(checkBox_);
    halves->setStretchFactor(0, 3);
    halves->setStretchFactor(1, 4);
    all->addWidget(halves, 1);
    connect(close_, &QPushButton::clicked, this, [this] { compare_->close({verdicts_->chosen()}); });
    connect(keep_, &QPushButton::clicked, this, [this] { compare_->keep({verdicts_->chosen()}); });
    connect(back_, &QPushButton::clicked, this, &ComparePage::giveBack);
    connect(inLog_, &QPushButton::clicked, this, [this] { emit defectWanted(verdicts_->chosen()); });
    connect(then_, &QPushButton::clicked, this, [this] { compare_->layBesideThen(verdicts_->chosen()); });
    connect(allCured_, &QPushButton::clicked, this, [this] { compare_->close(compare_->curedOnes()); });
    connect(why_, &QLineEdit::returnPressed, this, [this] {
        if (why_->text().trimmed().isEmpty())
            return;
        compare_->giveBack(verdicts_->chosen(), why_->text().trimmed());
        why_->hide();
        verdicts_->setFocus();
    });
    return side;
}

QWidget* ComparePage::buildMiddle() {
    auto* middle = new QWidget;
    auto* all = new QVBoxLayout(middle);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    auto* bar = new QWidget;
    auto* words = new FlowLayout(4);
    bar->setLayout(words);
    words->setContentsMargins(12, 6, 12, 6);
    colours_ = new QComboBox;
    colours_->setObjectName(QStringLiteral("compareColours"));
    colours_->setAccessibleName(tr("Colours of both"));
    for (Colouring c : {Colouring::Strain, Colouring::Volume, Colouring::Contact, Colouring::PokeThrough,
                        Colouring::Gap, Colouring::Roughness, Colouring::Leak, Colouring::Lag, Colouring::Pop,
                        Colouring::Weight, Colouring::Own})
        colours_->addItem(nameOf(c), static_cast<int>(c));
    words->addWidget(colours_);
    seam_ = wordToggle(words, tr("seam"), QStringLiteral("compareSeam"), false,
                       tr("One over the other, with a seam to drag"));
    difference_ = wordToggle(words, tr("where it differs"), QStringLiteral("compareDifference"), false,
                             tr("Tints the skin that lies elsewhere in this pose"));
    play_ = wordToggle(words, tr("sweep"), QStringLiteral("compareSweep"));
    all->addWidget(bar);
    if (Viewport::supported()) {
        sides_ = new SideBySide(compare_);
        all->addWidget(sides_, 1);
        connect(sides_, &SideBySide::differenceChanged, this,
                [this] { here_->setText(sides_->differenceWords()); });
        connect(seam_, &QPushButton::toggled, sides_, &SideBySide::setSeamShown);
        connect(difference_, &QPushButton::toggled, sides_, &SideBySide::setDifferenceShown);
        connect(colours_, &QComboBox::activated, this, [this](int at) {
            sides_->setColouring(static_cast<Colouring>(colours_->itemData(at).toInt()));
        });
    } else {
        all->addWidget(noOpenGl(tr("The numbers and the verdicts are there all the same.")), 1);
    }
    connect(play_, &QPushButton::clicked, this, [this](bool on) { on ? sweep_.start() : sweep_.stop(); });
    return middle;
}

QWidget* ComparePage::buildRight() {
    auto* side = new QWidget;
    side->setMaximumWidth(520);
    setTextLeast(side, 290, 400);
    auto* outer = new QVBoxLayout(side);
    outer->setContentsMargins(0, 0, 0, 0);
    auto* inside = new QWidget;
    outer->addWidget(scrolled(inside));
    auto* all = new QVBoxLayout(inside);
    all->setContentsMargins(16, 10, 14, 10);
    all->setSpacing(8);
    table_ = new MeasureTable;
    all->addWidget(table_);
    connect(table_, &MeasureTable::colouringWanted, this, [this](Colouring c) {
        if (!sides_)
            return;
        sides_->setColouring(c);
        colours_->setCurrentIndex(std::max(0, colours_->findData(static_cast<int>(c))));
    });
    change_ = new QWidget;
    auto* change = new QVBoxLayout(change_);
    change->setContentsMargins(0, 0, 0, 0);
    change->setSpacing(4);
    auto* title = new QLabel(tr("Where the skin differs"));
    setType(title, 1.0, true);
    change->addWidget(title);
    skin_ = wrapped(QStringLiteral("skinDiffers"));
    here_ = wrapped(QStringLiteral("skinHere"));
    skin_->setProperty("quiet", true);
    here_->setProperty("quiet", true);
    change->addWidget(skin_);
    change->addWidget(here_);
    all->addWidget(change_);
    all->addStretch(1);
    signBox_ = new QWidget;
    auto* sign = new QVBoxLayout(signBox_);
    sign->setContentsMargins(0, 0, 0, 0);
    sign->setSpacing(4);
    sign->addWidget(hairline());
    signed_ = wrapped(QStringLiteral("signed"));
    sign->addWidget(signed_);
    use_ = new QLineEdit(tr("to animation"));
    use_->setObjectName(QStringLiteral("signFor"));
    use_->setAccessibleName(tr("What the build is signed off for"));
    auto* line = new QHBoxLayout;
    line->setSpacing(6);
    sign_ = wordButton(line, tr("Sign off"), QStringLiteral("signOff"),
                       tr("This build is good for that, and I say so"));
    sign_->setProperty("strong", true);
    line->addWidget(use_, 1);
    sign->addLayout(line);
    auto* after = new FlowLayout(4);
    takeBack_ = wordButton(after, tr("Take it back…"), QStringLiteral("takeBack"));
    print_ = wordButton(after, tr("Print…"), QStringLiteral("printSignOff"));
    sign->addLayout(after);
    all->addWidget(signBox_);
    connect(sign_, &QPushButton::clicked, this, &ComparePage::signOff);
    connect(use_, &QLineEdit::returnPressed, this,
            [this] { takeBack_->isVisible() ? takeBack() : signOff(); });
    connect(takeBack_, &QPushButton::clicked, this, &ComparePage::takeBack);
    connect(print_, &QPushButton::clicked, this, &ComparePage::print);
    return side;
}

void ComparePage::fillAgainst(QMenu* menu) {
    menu->clear();
    const auto builds = build_->builds();
    for (const BuildState& b : builds)
        if (b.build.number != build_->number())
            menu->addAction(tr("build %1").arg(b.build.number), this,
                            [this, id = b.build.id] { compare_->againstBuild(id); });
    menu->addAction(tr("another file…"), this, [this] { emit fileWanted(); });
    menu->addSeparator();
    menu->addAction(tr("its left, with its right"), this, [this] { compare_->leftAgainstRight(); });
    menu->addAction(run_->method() == Skinning::Linear ? tr("itself, with dual quaternions")
                                                       : tr("itself, with linear skinning"),
                    this, [this] { compare_->againstOtherMethod(); });
    if (!build_->wornName().isEmpty())
        menu->addAction(tr("the build itself"), this, [this] { compare_->againstVariant({}); });
    for (const Variant& v : build_->variants())
        if (const QString name = QString::fromStdString(v.name); name != build_->wornName())
            menu->addAction(tr("itself, %1").arg(name), this, [this, v] { compare_->againstVariant(v); });
    const auto tried = mend_->kept();
    for (const KeptTrial& k : tried)
        if (!k.trial.steps.empty())
            menu->addAction(tr("itself, as tried: %1").arg(nameOf(k.trial)), this,
                            [this, trial = k.trial] { compare_->ofTrial(trial); });
    if (compare_->chosen()) {
        menu->addSeparator();
        menu->addAction(tr("nothing"), this, [this] { compare_->againstNothing(); });
    }
}

void ComparePage::refresh() {
    const auto c = compare_->comparison();
    const bool open = build_->subject() != nullptr;
    QString now = compare_->chosen()     ? compare_->nowName()
                  : build_->number() > 0 ? tr("build %1").arg(build_->number())
                                         : build_->title();
    if (!now.isEmpty())
        now[0] = now[0].toUpper();
    now_->setText(compare_->chosen() ? tr("%1 against").arg(now) : now);
    now_->setVisible(open);
    against_->setVisible(open);
    against_->setText(compare_->chosen() ? compare_->beforeName() : tr("compare with"));
    sentence_->setText(
        !open                           ? tr("No character is open.")
        : c                             ? QString::fromStdString(sentence(*c))
        : compare_->comparing()         ? tr("Comparing…")
        : !compare_->whyNot().isEmpty() ? compare_->whyNot()
        : !run_->run()                  ? tr("It is compared once its plan has been run.")
        : build_->builds().size() > 1
            ? tr("Choose what this build is laid against.")
            : tr("The log knows no other build of it yet. Lay it against another file, its left "
                 "against its right, or drop a second file here."));
    QStringList notes;
    if (c)
        for (const std::string& note : notesOn(*c))
            notes << QString::fromStdString(note);
    notes_->setText(notes.join(QLatin1Char('\n')));
    notes_->setVisible(!notes.isEmpty());
    skin_->setText(c ? QString::fromStdString(skinSentence(*c)) : QString());
    change_->setVisible(c && !c->mirrored() && c->versus != Versus::Character);
    for (QWidget* w : std::initializer_list<QWidget*>{colours_, seam_, difference_, play_})
        w->setEnabled(c != nullptr);
    difference_->setVisible(!c || (c->onBefore.by == PairedBy::SamePlace && !c->mirrored()));
    if (!c) {
        sweep_.stop();
        play_->setChecked(false);
        here_->clear();
    }
    // what there is to see comes first; with nothing changed, all of it
    if (c && strips_->count(strips_->order()) == 0)
        strips_->setOrder(strips_->count(CompareStrips::Order::WorseFirst) ? CompareStrips::Order::WorseFirst
                          : strips_->count(CompareStrips::Order::BetterFirst)
                              ? CompareStrips::Order::BetterFirst
                              : CompareStrips::Order::Body);
    refreshOrders();
    refreshTable();
}

void ComparePage::refreshTable() {
    const auto c = compare_->comparison();
    if (!c || !compare_->motionShown())
        return table_->show(std::nullopt);
    ComparedPose pose;
    pose.sides = c->sides;
    pose.motion[1] = compare_->motion();
    for (const MotionChange& m : c->differences.motions)
        if (m.motion[1] == compare_->motion())
            pose.motion[0] = m.motion[0];
    pose.joint[1] = compare_->joint();
    if (pose.joint[1] >= 0)
        pose.joint[0] = c->onBefore.joints.other[static_cast<std::size_t>(pose.joint[1])];
    pose.at = compare_->poseAt();
    pose.names = {compare_->beforeName(), compare_->trial() ? tr("tried") : compare_->nowName()};
    table_->show(pose);
}

void ComparePage::refreshOrders() {
    const QString words[] = {tr("worse"), tr("better"), tr("came back"), tr("body order")};
    for (std::size_t i = 0; i < orders_.size(); ++i) {
        const auto order = static_cast<CompareStrips::Order>(i);
        const int n = strips_->count(order);
        orders_[i]->setText(
            order == CompareStrips::Order::Body ? words[i] : QStringLiteral("%1 %2").arg(words[i]).arg(n));
        orders_[i]->setChecked(strips_->order() == order);
        orders_[i]->setVisible(compare_->comparison() != nullptr);
    }
}

void ComparePage::refreshVerdicts() {
    const DefectChecks* checks = compare_->checks();
    checkBox_->setVisible(checks && !checks->checks.isEmpty());
    refreshOrders();
    if (!checks)
        return;
    checked_->setText(checks->sentence());
    const qint64 chosen = verdicts_->chosen();
    const Defect* d = chosen ? log_->find(chosen) : nullptr;
    for (QPushButton* b : {keep_, inLog_})
        b->setEnabled(d);
    close_->setEnabled(d && isOpen(d->state));
    back_->setEnabled(d && d->state != DefectState::BeingFixed);
    // What it is now stands beside what it was only where it is laid against the build it was seen on.
    const DefectCheck* check = compare_->check(chosen);
    then_->setVisible(check && check->defect.build.id &&
                      check->defect.build.id != compare_->againstWhichBuild());
    if (check)
        then_->setText(tr("Beside build %1").arg(check->defect.build.number));
    const auto cured = compare_->curedOnes();
    allCured_->setVisible(!cured.isEmpty());
    allCured_->setText(cured.size() == 1 ? tr("Close the one that is cured")
                                         : tr("Close all %n that are cured", nullptr, int(cured.size())));
    if (why_->isVisible() && !d)
        why_->hide();
}

void ComparePage::refreshSigned() {
    const bool there = build_->subject() && log_->build().id;
    signBox_->setVisible(there);
    if (!there)
        return;
    const SignOff *standing = nullptr, *older = nullptr;
    const auto all = compare_->signOffs();
    for (const SignOff& s : all) {
        if (!s.stands())
            continue;
        if (s.build.id == log_->build().id && !standing)
            standing = &s;
        if (s.build.number < build_->number() && !older)
            older = &s;
    }
    const auto day = [](const QDateTime& at) { return dateWords(at, DateAs::LongDay); };
    signed_->setText(
        standing
            ? tr("Signed off %1 by %2, %3.").arg(standing->state.use, standing->author, day(standing->at))
        : older ? tr("Build %1 was signed off %2 by %3, %4; this one is not.")
                      .arg(older->build.number)
                      .arg(older->state.use, older->author, day(older->at))
                : tr("Not signed off."));
    writingReason_ &= standing != nullptr;
    use_->setVisible(!standing || writingReason_);
    if (!standing && use_->text().isEmpty()) {
        use_->setText(tr("to animation"));
        use_->setPlaceholderText({});
    }
    sign_->setVisible(!standing);
    sign_->setEnabled(run_->run() && !run_->run()->cancelled);
    takeBack_->setVisible(standing);
    print_->setVisible(standing);
}

void ComparePage::stepAngle(int by) {
    if (const Motion* m = compare_->motionShown())
        compare_->setPose(compare_->motion(), stepBeside(*m, compare_->poseAt(), by > 0));
}

void ComparePage::goTo(double at) {
    if (compare_->motionShown())
        compare_->setPose(compare_->motion(), at);
}

void ComparePage::sweep() {
    play_->setChecked(!sweep_.isActive());
    sweep_.isActive() ? sweep_.stop() : sweep_.start();
}

void ComparePage::giveBack() {
    if (!verdicts_->chosen())
        return;
    why_->clear();
    why_->show();
    why_->setFocus();
}

void ComparePage::signOff() { compare_->signOff(use_->text().trimmed(), 3); }

void ComparePage::takeBack() {
    for (const SignOff& s : compare_->signOffs())
        if (s.stands() && s.build.id == log_->build().id) {
            // the reason goes where the use stood
            if (!std::exchange(writingReason_, true)) {
                use_->clear();
                use_->setPlaceholderText(tr("Why? Enter takes it back"));
                use_->show();
                use_->setFocus();
                return;
            }
            const QString why = use_->text();
            use_->clear();
            writingReason_ = false;
            compare_->takeBack(s.event, why);
            return;
        }
}

void ComparePage::print() {
    for (const SignOff& s : compare_->signOffs())
        if (s.stands() && s.build.id == log_->build().id) {
            const QString path =
                QFileDialog::getSaveFileName(this, tr("Print the sign-off"), {}, tr("PDF (*.pdf)"));
            if (!path.isEmpty())
                compare_->printSignOff(s, path);
            return;
        }
}

void ComparePage::addActions(ActionBook& book) {
    addAction(book, "compare-step-on", tr("Compare: one step further"), Qt::Key_Right,
              [this] { stepAngle(1); });
    addAction(book, "compare-step-back", tr("Compare: one step back"), Qt::Key_Left,
              [this] { stepAngle(-1); });
    addAction(book, "compare-motion-on", tr("Compare: next motion"), Qt::Key_Down,
              [this] { strips_->step(1); });
    addAction(book, "compare-motion-back", tr("Compare: previous motion"), Qt::Key_Up,
              [this] { strips_->step(-1); });
    addAction(book, "compare-neutral", tr("Compare: neutral"), Qt::Key_Home, [this] { goTo(0); });
    addAction(book, "compare-end", tr("Compare: to the end of the motion"), Qt::Key_End, [this] {
        if (const Motion* m = compare_->motionShown())
            goTo(m->limit());
    });
    addAction(book, "compare-sweep", tr("Compare: sweep the motion"), Qt::Key_Space, [this] { sweep(); });
    addAction(book, "compare-seam", tr("One over the other under a seam, or side by side"), Qt::Key_Y,
              [this] { seam_->setChecked(!seam_->isChecked()); });
    addAction(book, "compare-differs", tr("Tint where the skin differs"), Qt::Key_J,
              [this] { difference_->setChecked(!difference_->isChecked()); });
    addAction(book, "verdict-on", tr("Next defect to check"), Qt::Key_Period, [this] { verdicts_->step(1); });
    addAction(book, "verdict-back", tr("Previous defect to check"), Qt::Key_Comma,
              [this] { verdicts_->step(-1); });
    addAction(book, "check-close", tr("Close the defect that was checked"), Qt::Key_C, [this] {
        if (close_->isEnabled())
            compare_->close({verdicts_->chosen()});
    });
    addAction(book, "check-keep", tr("Keep the defect open, with its verdict"), Qt::Key_K, [this] {
        if (keep_->isEnabled())
            compare_->keep({verdicts_->chosen()});
    });
    addAction(book, "check-give-back", tr("Give the defect back, with a word why"), Qt::Key_R,
              [this] { giveBack(); });
    addAction(book, "check-then", tr("The build beside the one the defect was seen on"), Qt::Key_B, [this] {
        if (then_->isVisible())
            compare_->layBesideThen(verdicts_->chosen());
    });
    addAction(book, "check-close-cured", tr("Close all defects that are cured"), Qt::SHIFT | Qt::Key_C,
              [this] { compare_->close(compare_->curedOnes()); });
    addAction(book, "check-again", tr("Check the open defects again"), {},
              [this] { compare_->checkAgain(); });
}

QString ComparePage::keyLine(const ActionBook& book) const {
    return book.line(
        {{{QStringLiteral("compare-step-back"), QStringLiteral("compare-step-on")}, tr("angle")},
         {{QStringLiteral("compare-motion-back"), QStringLiteral("compare-motion-on")}, tr("motion")},
         {{QStringLiteral("compare-seam")}, tr("seam")},
         {{QStringLiteral("verdict-back"), QStringLiteral("verdict-on")}, tr("defect")},
         {{QStringLiteral("check-close")}, tr("close")},
         {{QStringLiteral("check-keep")}, tr("keep")},
         {{QStringLiteral("check-give-back")}, tr("give back")},
         {{QStringLiteral("keys")}, tr("all keys")}});
}

namespace {
const QString kBuild = QStringLiteral("build"), kSeam = QStringLiteral("seam"),
              kDifference = QStringLiteral("difference"), kMotion = QStringLiteral("motion"),
              kAt = QStringLiteral("at");
}

QJsonObject ComparePage::placeToKeep() const {
    QJsonObject o{{kBuild, compare_->againstWhichBuild()},
                  {kSeam, seam_ && seam_->isChecked()},
                  {kDifference, difference_ && difference_->isChecked()}};
    if (const Motion* m = compare_->motionShown()) {
        o.insert(kMotion, QString::fromStdString(m->id));
        o.insert(kAt, compare_->poseAt());
    }
    return o;
}

void ComparePage::goBackTo(const QJsonObject& place) {
    if (const qint64 build = place.value(kBuild).toInteger(); build && !compare_->chosen())
        compare_->againstBuild(build);
    for (const auto& [button, name] : {std::pair(seam_, kSeam), {difference_, kDifference}})
        if (button && button->isChecked() != place.value(name).toBool())
            button->click();
    const auto& run = run_->run();
    if (const int motion = run ? run->plan.find(place.value(kMotion).toString().toStdString()) : -1;
        motion >= 0)
        compare_->setPose(motion, place.value(kAt).toDouble());
}

} // namespace hobble
