#include "app/main_window.h"

#include "app/log/author_bar.h"
#include "app/log/password_bar.h"
#include "app/review/limits_dialog.h"
#include "app/start/start_sheet.h"
#include "app/theme.h"
#include "app/widgets/parts.h"
#include "io/character_read.h"
#include "log/date_words.h"
#include "story/demo_story.h"

#include <QApplication>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMimeData>
#include <QPushButton>
#include <QScrollArea>
#include <QSettings>
#include <QStackedWidget>
#include <QStandardPaths>
#include <QStringListModel>
#include <QTimer>
#include <QVBoxLayout>

namespace hobble {

MainWindow::MainWindow(Session* session, QWidget* parent) : QMainWindow(parent), session_(session) {
    setWindowTitle(tr("Hobble"));
    resize(1280, 800);
    setAcceptDrops(true);
    auto* centre = new QWidget;
    auto* all = new QVBoxLayout(centre);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    all->addWidget(buildTopLine());
    all->addWidget(hairline());
    auto* line = new QWidget;
    tabs_ = new QHBoxLayout(line);
    tabs_->setContentsMargins(20, 0, 16, 0);
    tabs_->setSpacing(28);
    all->addWidget(line);
    all->addWidget(hairline());
    stack_ = new QStackedWidget;
    all->addWidget(stack_, 1);
    all->addWidget(hairline());
    all->addWidget(new AuthorBar(&session->log()));
    all->addWidget(new PasswordBar(&session->log()));
    all->addWidget(buildMessageBar());
    all->addWidget(buildFoot());
    setCentralWidget(centre);
    book_ = new ActionBook(this);

    BuildDesk* build = &session->build();
    PlanDesk* plan = &session->plan();
    RunDesk* run = &session->run();
    ExposureDesk* exposure = &session->exposure();
    LogDesk* log = &session->log();
    auto* start = new StartSheet(build, log);
    addPage(intake_ = new IntakePage(build, plan, log, &session->compare(), start));
    addPage(planPage_ = new PlanPage(build, plan, &session->pose(), run, exposure, log));
    addPage(review_ = new ReviewPage(build, plan, run, exposure, log, &session->undoStack()));
    addPage(mendPage_ = new MendPage(&session->mend(), build, run, log, &session->undoStack()));
    addPage(comparePage_ = new ComparePage(build, &session->compare(), &session->mend(), run, log));
    addPage(logPage_ = new LogPage(build, run, log, &session->compare()));
    tabs_->addStretch();
    addActions();
    qApp->installEventFilter(this);

    connect(start, &StartSheet::openWanted, this, &MainWindow::openDialog);
    connect(start, &StartSheet::demoWanted, this, &MainWindow::openDemo);
    connect(start, &StartSheet::logWanted, logPage_, &LogPage::openAnother);
    connect(start, &StartSheet::characterWanted, build, &BuildDesk::open);
    connect(intake_, &IntakePage::characterWanted, build, &BuildDesk::open);
    connect(mendPage_, &MendPage::buildWanted, this, [this](const QString& path) {
        session_->build().open(path);
        showPage(review_);
    });
    connect(mendPage_, &MendPage::compareFileWanted, this, [this](const QString& path) {
        session_->compare().againstFile(path);
        showPage(comparePage_);
    });
    connect(mendPage_, &MendPage::compareTrialWanted, this, [this] {
        session_->compare().ofTrial(session_->mend().trial());
        showPage(comparePage_);
    });
    connect(comparePage_, &ComparePage::fileWanted, this, &MainWindow::compareDialog);
    connect(planPage_, &PlanPage::reviewWanted, this, [this] { showPage(review_); });
    connect(logPage_, &LogPage::showInReview, this, &MainWindow::showDefect);
    followDesks();
    refreshTop();
    refreshFoot();
    fillCommands();
    showPage(intake_);
}

void MainWindow::addPage(Page* page) {
    auto* tab = new QPushButton;
    tab->setObjectName(QStringLiteral("page") + page->id().at(0).toUpper() + page->id().mid(1));
    tab->setProperty("page", true);
    tab->setCheckable(true);
    tabs_->addWidget(tab);
    stack_->addWidget(page);
    pages_.push_back({page, tab});
    connect(tab, &QPushButton::clicked, this, [this, page] { showPage(page); });
    connect(page, &Page::countChanged, this, [this, page] { refreshCount(page); });
    connect(page, &Page::wanted, this, [this, page] { showPage(page); });
    connect(page, &Page::failed, this, [this](const QString& m) { say(m, true); });
    connect(page, &Page::told, this, [this](const QString& m) { say(m, false); });
    connect(page, &Page::defectWanted, this, [this](qint64 id) {
        showPage(logPage_);
        logPage_->choose(id);
    });
    MendDesk* mend = &session_->mend();
    connect(page, &Page::mendWanted, this, [this, mend](int finding) {
        showPage(mendPage_);
        mend->beginFor(finding);
    });
    connect(page, &Page::mendDefectWanted, this, [this, mend](qint64 defect) {
        showPage(mendPage_);
        mend->beginForDefect(defect);
    });
    connect(page, &Page::mendJointWanted, this, [this, mend](int joint) {
        showPage(mendPage_);
        mend->beginAt(joint);
    });
    connect(page, &Page::mendSkinWanted, this,
            [this, mend](int joint, const std::vector<std::uint32_t>& triangles) {
                showPage(mendPage_);
                mend->beginAt(joint);
                if (MarkingTool* marking = mendPage_->marking())
                    marking->mark(triangles);
            });
    connect(page, &Page::compareWanted, this, [this](qint64 with, qint64 defect) {
        if (with)
            session_->compare().againstBuild(with);
        showPage(comparePage_);
        if (defect)
            comparePage_->verdicts()->choose(defect);
    });
    refreshCount(page);
}

void MainWindow::followDesks() {
    for (Desk* desk : session_->desks()) {
        connect(desk, &Desk::failed, this, [this](const QString& m) { say(m, true); });
        connect(desk, &Desk::told, this, [this](const QString& m) { say(m, false); });
    }
    BuildDesk* build = &session_->build();
    RunDesk* run = &session_->run();
    LogDesk* log = &session_->log();
    connect(log, &LogDesk::defectLogged, this, [this](qint64 id) {
        logPage_->choose(id);
        say(tr("Logged as defect %1. Give it to somebody on the Log page (Ctrl+6).").arg(id), false);
    });
    connect(build, &BuildDesk::characterChanged, this, &MainWindow::characterCameIn);
    connect(build, &BuildDesk::characterChanged, this, &MainWindow::refreshTop);
    connect(build, &BuildDesk::intakeChanged, this, &MainWindow::refreshTop);
    connect(build, &BuildDesk::intakeChanged, this, &MainWindow::fillCommands); // what was opened before
    connect(&session_->plan(), &PlanDesk::planChanged, this, &MainWindow::refreshTop);
    connect(&session_->plan(), &PlanDesk::planChanged, this, &MainWindow::fillCommands);
    connect(run, &RunDesk::runChanged, this, &MainWindow::refreshTop);
    connect(run, &RunDesk::runChanged, this, &MainWindow::refreshFoot);
    connect(&session_->jobs(), &JobQueue::progressed, this,
            [this](const QString& title, int percent, double left) {
                job_->setText(left > 1
                                  ? tr("%1  %2 %, %3 s left").arg(title).arg(percent).arg(left, 0, 'f', 0)
                                  : tr("%1  %2 %").arg(title).arg(percent));
                stop_->show();
            });
    connect(&session_->jobs(), &JobQueue::idle, this, [this] {
        job_->setText(tr("no work in progress"));
        stop_->hide();
    });
}

void MainWindow::characterCameIn() {
    messageBar_->hide();
    keys_->setText(shownPage()->keyLine(*book_)); // the start sheet has keys of its own
    const BuildDesk& build = session_->build();
    const auto blocking = std::count_if(build.checks().begin(), build.checks().end(),
                                        [](const CheckFinding& f) { return f.severity == 4; });
    const auto& notes = build.subject()->character->notes;
    if (blocking > 0)
        say(blocking == 1
                ? tr("Intake found something that spoils the test (Ctrl+1).")
                : tr("Intake found %n things that spoil the test (Ctrl+1).", nullptr, int(blocking)),
            true);
    else if (!notes.empty())
        say(QString::fromStdString(notes.front()), false);
    // the first one came in at Intake's door: on to its test, unless it is not fit for one
    if (!std::exchange(opened_, true) && shownPage() == intake_ && blocking == 0)
        showPage(review_);
}

void MainWindow::showDefect(qint64 id) {
    const auto whole = session_->log().whole(id);
    if (!whole)
        return say(QString::fromStdString(whole.error()), true);
    const Defect& d = *whole;
    BuildDesk& build = session_->build();
    if (!build.subject() || d.build.id != session_->log().build().id)
        say(tr("Defect %1 was logged on %2, build %3, which is not the build that is open.")
                .arg(id)
                .arg(d.build.character)
                .arg(d.build.number),
            true);
    for (int c = 0; c < static_cast<int>(build.checks().size()); ++c)
        if (build.defectOfCheck(c) == id) { // found by Intake, and still there
            showPage(intake_);
            return build.selectCheck(c);
        }
    showPage(review_);
    review_->showDefect(d);
}

QWidget* MainWindow::buildTopLine() {
    auto* top = new QWidget;
    auto* row = new QHBoxLayout(top);
    row->setContentsMargins(20, 8, 16, 8);
    row->setSpacing(12);
    sentence_ = new QLabel;
    sentence_->setObjectName(QStringLiteral("topSentence"));
    sentence_->setTextFormat(Qt::RichText);
    sentence_->setWordWrap(true);
    setType(sentence_, 1.15);
    row->addWidget(sentence_, 3);
    command_ = new QLineEdit;
    command_->setObjectName(QStringLiteral("command"));
    command_->setPlaceholderText(tr("Find, or say what to do      Ctrl+K"));
    command_->setAccessibleName(tr("Find, or say what to do"));
    command_->setMinimumWidth(120);
    command_->setMaximumWidth(320);
    row->addWidget(command_, 1);
    job_ = new QLabel(tr("no work in progress"));
    job_->setObjectName(QStringLiteral("job"));
    job_->setProperty("quiet", true);
    row->addWidget(job_);
    stop_ = new QPushButton(tr("Stop"));
    stop_->setObjectName(QStringLiteral("stop"));
    stop_->hide();
    connect(stop_, &QPushButton::clicked, &session_->jobs(), &JobQueue::cancel);
    row->addWidget(stop_);
    return top;
}

QWidget* MainWindow::buildMessageBar() {
    messageBar_ = new QWidget;
    auto* bar = new QHBoxLayout(messageBar_);
    bar->setContentsMargins(20, 4, 12, 4);
    message_ = wrapped(QStringLiteral("message"));
    message_->setAccessibleName(tr("Message"));
    message_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    auto* gone = new QPushButton(tr("Close"));
    connect(gone, &QPushButton::clicked, messageBar_, &QWidget::hide);
    bar->addWidget(message_, 1);
    bar->addWidget(gone, 0, Qt::AlignTop);
    messageBar_->hide();
    return messageBar_;
}

QWidget* MainWindow::buildFoot() {
    auto* foot = new QWidget;
    auto* row = new QHBoxLayout(foot);
    row->setContentsMargins(20, 5, 16, 5);
    keys_ = new QLabel;
    keys_->setProperty("quiet", true);
    keys_->setWordWrap(true);
    setType(keys_, 0.9);
    totals_ = new QLabel;
    totals_->setObjectName(QStringLiteral("totals"));
    setType(totals_, 0.95);
    row->addWidget(keys_, 1);
    row->addWidget(totals_);
    return foot;
}

void MainWindow::openDialog() {
    if (const QString path = askCharacter(tr("Open a character")); !path.isEmpty())
        session_->build().open(path);
}

void MainWindow::openDemo() {
    const QString from = demoFolder(QCoreApplication::applicationDirPath());
    if (from.isEmpty())
        return say(tr("The demo is not there: its files belong in share/hobble/demo beside the program."),
                   true);
    const QString into =
        QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/demo");
    session_->jobs().start(
        tr("Setting up the demo"), [this, from, into](JobControl&) -> std::function<void()> {
            auto story = setUpDemo(from, into);
            if (!story)
                return [this, why = QString::fromStdString(story.error())] { say(why, true); };
            return [this, story = *story] {
                session_->log().open(story.log);
                session_->build().open(story.character);
            };
        });
}

void MainWindow::compareDialog() {
    if (const QString path = askCharacter(tr("Compare with")); !path.isEmpty())
        session_->compare().againstFile(path);
}

QString MainWindow::askCharacter(const QString& title) {
    const QString folder = QSettings().value(QStringLiteral("folder")).toString();
    QStringList every, each;
    for (const CharacterFormat& f : characterFormats()) {
        QStringList patterns;
        for (const std::string& suffix : f.suffixes)
            patterns << QStringLiteral("*.%1").arg(QString::fromStdString(suffix));
        every << patterns;
        each << QStringLiteral("%1 (%2)").arg(QString::fromStdString(f.name),
                                              patterns.join(QLatin1Char(' ')));
    }
    each.prepend(tr("Characters (%1)").arg(every.join(QLatin1Char(' '))));
    const QString path = QFileDialog::getOpenFileName(this, title, folder, each.join(QStringLiteral(";;")));
    if (!path.isEmpty())
        QSettings().setValue(QStringLiteral("folder"), QFileInfo(path).absolutePath());
    return path;
}

void MainWindow::showPage(Page* page) {
    stack_->setCurrentWidget(page);
    for (const Leaf& leaf : pages_)
        leaf.tab->setChecked(leaf.page == page);
    keys_->setText(page->keyLine(*book_));
    page->firstFocus()->setFocus();
}

std::vector<Page*> MainWindow::pages() const {
    std::vector<Page*> out;
    for (const Leaf& leaf : pages_)
        out.push_back(leaf.page);
    return out;
}

Page* MainWindow::shownPage() const { return static_cast<Page*>(stack_->currentWidget()); }

void MainWindow::refreshCount(Page* page) {
    for (const Leaf& leaf : pages_)
        if (leaf.page == page) {
            const QString count = page->count();
            leaf.tab->setText(count.isEmpty() ? page->title()
                                              : QStringLiteral("%1  %2").arg(page->title(), count));
        }
}

void MainWindow::refreshTop() {
    const Theme& t = Theme::current();
    const BuildDesk& build = session_->build();
    if (!build.subject())
        return sentence_->setText(tr("<b>Hobble</b>  no character is open"));
    QStringList parts;
    if (build.number() > 0)
        parts << tr("build %1").arg(build.number());
    parts << QString::fromStdString(session_->plan().plan().name);
    if (!build.wornName().isEmpty())
        parts << build.wornName();
    const RunDesk& run = session_->run();
    parts << (run.run() ? tr("run of %1").arg(dateWords(run.at(), DateAs::Weekday)) : tr("not run yet"));
    sentence_->setText(QStringLiteral("<b>%1</b><span style='color:%2'>, %3</span>")
                           .arg(build.title().toHtmlEscaped(), t.muted.name(),
                                parts.join(QStringLiteral(", ")).toHtmlEscaped()));
}

void MainWindow::refreshFoot() {
    const auto& run = session_->run().run();
    if (!run)
        return totals_->setText({});
    int serious = 0, blocking = 0;
    for (const Fault& f : run->faults) {
        serious += f.severity == 3;
        blocking += f.severity == 4;
    }
    totals_->setText(tr("%1, %2 serious, %3 blocking    %4 poses in %5 s")
                         .arg(run->faults.size() == 1 ? tr("one fault")
                                                      : tr("%n faults", nullptr, int(run->faults.size())))
                         .arg(serious)
                         .arg(blocking)
                         .arg(run->plan.stepCount())
                         .arg(run->seconds, 0, 'f', 1));
}

void MainWindow::say(const QString& message, bool bad) {
    message_->setText(message);
    message_->setStyleSheet(bad ? QStringLiteral("color: %1").arg(Theme::current().blocking.name())
                                : QString());
    messageBar_->show();
    // Good news goes by itself; bad news waits to be read.
    if (!bad)
        QTimer::singleShot(6000, messageBar_, [this, message] {
            if (message_->text() == message)
                messageBar_->hide();
        });
}

void MainWindow::showLimits() {
    if (auto* open = findChild<LimitsDialog*>())
        return open->raise();
    auto* dialog = new LimitsDialog(&session_->run(), this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->show(); // beside the page: what comes and goes is seen there
}

void MainWindow::dragEnterEvent(QDragEnterEvent* e) {
    if (e->mimeData()->hasUrls() && e->mimeData()->urls().front().isLocalFile())
        e->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* e) {
    const QString path = e->mimeData()->urls().front().toLocalFile();
    // dropped on Compare it is what the open one is laid against; anywhere else it is opened
    if (shownPage() == comparePage_ && session_->build().subject())
        session_->compare().againstFile(path);
    else
        session_->build().open(path);
}

} // namespace hobble
