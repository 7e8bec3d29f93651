#include "app/main_window.h"

#include "app/review/limits_dialog.h"
#include "app/theme.h"
#include "io/character_read.h"

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
    auto hair = [&] {
        auto* h = new QFrame;
        h->setProperty("hair", true);
        all->addWidget(h);
    };
    all->addWidget(buildTopLine());
    hair();
    all->addWidget(buildPages());
    hair();
    stack_ = new QStackedWidget;
    intake_ = new IntakePage(session);
    planPage_ = new PlanPage(session);
    review_ = new ReviewPage(session);
    logPage_ = new LogPage(session);
    stack_->addWidget(intake_);
    stack_->addWidget(planPage_);
    stack_->addWidget(review_);
    stack_->addWidget(logPage_);
    all->addWidget(stack_, 1);
    hair();
    messageBar_ = new QWidget;
    auto* bar = new QHBoxLayout(messageBar_);
    bar->setContentsMargins(20, 4, 12, 4);
    message_ = new QLabel;
    message_->setObjectName(QStringLiteral("message"));
    message_->setWordWrap(true);
    message_->setAccessibleName(tr("Message"));
    message_->setTextFormat(Qt::PlainText);
    message_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    auto* gone = new QPushButton(tr("Close"));
    connect(gone, &QPushButton::clicked, messageBar_, &QWidget::hide);
    bar->addWidget(message_, 1);
    bar->addWidget(gone, 0, Qt::AlignTop);
    messageBar_->hide();
    all->addWidget(messageBar_);
    all->addWidget(buildFoot());
    setCentralWidget(centre);
    book_ = new ActionBook(this);
    buildActions();
    qApp->installEventFilter(this);

    auto toDefect = [this](qint64 id) {
        showPage(Log);
        logPage_->choose(id);
    };
    connect(intake_, &IntakePage::defectWanted, this, toDefect);
    connect(planPage_, &PlanPage::reviewWanted, this, [this] { showPage(Review); });
    connect(intake_, &IntakePage::openWanted, this, &MainWindow::openDialog);
    connect(intake_, &IntakePage::characterWanted, session, &Session::openFile);
    connect(review_, &ReviewPage::defectWanted, this, toDefect);
    connect(session, &Session::defectLogged, this, [this, toDefect](qint64 id) {
        logPage_->choose(id);
        say(tr("Logged as defect %1. Give it to somebody on the Log page (Ctrl+4).").arg(id), false);
    });
    connect(logPage_, &LogPage::showInReview, this, &MainWindow::showDefect);
    connect(session, &Session::failed, this, [this](const QString& m) { say(m, true); });
    connect(session, &Session::told, this, [this](const QString& m) { say(m, false); });
    connect(session, &Session::characterChanged, this, [this] {
        messageBar_->hide();
        const auto blocking = std::count_if(session_->checks().begin(), session_->checks().end(),
                                            [](const CheckFinding& f) { return f.severity == 4; });
        const auto& notes = session_->subject()->character->notes;
        if (blocking > 0)
            say(blocking == 1 ? tr("Intake found something that spoils the test (Ctrl+1).")
                              : tr("Intake found %1 things that spoil the test (Ctrl+1).").arg(blocking),
                true);
        else if (!notes.empty())
            say(QString::fromStdString(notes.front()), false);
        // the first one came in at Intake's door: on to its test, unless it is not fit for one
        if (!std::exchange(opened_, true) && stack_->currentIndex() == Intake && blocking == 0)
            showPage(Review);
        refreshTop();
        fillCommands();
    });
    for (auto signal : {&Session::runChanged, &Session::logChanged, &Session::characterChanged,
                        &Session::intakeChanged, &Session::planChanged}) {
        connect(session, signal, this, &MainWindow::refreshTop);
        connect(session, signal, this, &MainWindow::refreshFoot);
    }
    connect(&session->jobs(), &JobQueue::progressed, this,
            [this](const QString& title, int percent, double left) {
                job_->setText(left > 1
                                  ? tr("%1  %2 %, %3 s left").arg(title).arg(percent).arg(left, 0, 'f', 0)
                                  : tr("%1  %2 %").arg(title).arg(percent));
                stop_->show();
            });
    connect(&session->jobs(), &JobQueue::idle, this, [this] {
        job_->setText(tr("no work in progress"));
        stop_->hide();
    });
    refreshTop();
    refreshFoot();
    fillCommands();
    showPage(Intake);
}

void MainWindow::showDefect(qint64 id) {
    const auto whole = session_->wholeDefect(id);
    if (!whole)
        return say(QString::fromStdString(whole.error()), true);
    const Defect& d = *whole;
    if (!session_->subject() || d.build.hash != session_->buildHash())
        say(tr("Defect %1 was logged on %2, build %3, which is not the build that is open.")
                .arg(id)
                .arg(d.build.character)
                .arg(d.build.number),
            true);
    for (int c = 0; c < static_cast<int>(session_->checks().size()); ++c)
        if (session_->defectOfCheck(c) == id) { // found by Intake, and still there
            showPage(Intake);
            return session_->selectCheck(c);
        }
    showPage(Review);
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

QWidget* MainWindow::buildPages() {
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(20, 0, 16, 0);
    row->setSpacing(28);
    intakeTab_ = new QPushButton;
    planTab_ = new QPushButton;
    reviewTab_ = new QPushButton;
    logTab_ = new QPushButton;
    intakeTab_->setObjectName(QStringLiteral("pageIntake"));
    planTab_->setObjectName(QStringLiteral("pagePlan"));
    reviewTab_->setObjectName(QStringLiteral("pageReview"));
    logTab_->setObjectName(QStringLiteral("pageLog"));
    int page = 0;
    for (QPushButton* b : {intakeTab_, planTab_, reviewTab_, logTab_}) {
        b->setProperty("page", true);
        b->setCheckable(true);
        connect(b, &QPushButton::clicked, this, [this, page] { showPage(page); });
        ++page;
        row->addWidget(b);
    }
    row->addStretch();
    return line;
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
    const QString path =
        QFileDialog::getOpenFileName(this, tr("Open a character"), folder, each.join(QStringLiteral(";;")));
    if (path.isEmpty())
        return;
    QSettings().setValue(QStringLiteral("folder"), QFileInfo(path).absolutePath());
    session_->openFile(path);
}

void MainWindow::showPage(int page) {
    stack_->setCurrentIndex(page);
    intakeTab_->setChecked(page == Intake);
    planTab_->setChecked(page == Plan);
    reviewTab_->setChecked(page == Review);
    logTab_->setChecked(page == Log);
    keys_->setText(keyLine(page));
    if (page == Review)
        review_->strips()->setFocus();
    else if (page == Intake)
        intake_->checks()->setFocus();
    else if (page == Plan)
        planPage_->motions()->setFocus();
    else if (page == Log)
        logPage_->table()->setFocus();
}

// The keys one needs most, as they are set now.
QString MainWindow::keyLine(int page) const {
    const auto key = [this](const char* id) {
        for (const QAction* a : book_->actions())
            if (a->objectName() == QLatin1String(id))
                return a->shortcut().toString(QKeySequence::NativeText);
        return QString();
    };
    const auto pair = [&](const char* a, const char* b, const QString& what) {
        return QStringLiteral("%1 %2 %3").arg(key(a), key(b), what);
    };
    const auto one = [&](const char* a, const QString& what) {
        return QStringLiteral("%1 %2").arg(key(a), what);
    };
    if (page == Intake)
        return QStringList{pair("check-back", "check-on", tr("check")),
                           one("tell-rigger", tr("tell the rigger")),
                           one("passed", tr("what passed")),
                           one("open", tr("open")),
                           one("undo", tr("undo")),
                           one("keys", tr("all keys"))}
            .join(QStringLiteral("    "));
    if (page == Plan)
        return QStringList{one("plan-run", tr("run the plan")),
                           one("pose-neutral", tr("neutral")),
                           one("pose-mirror", tr("mirror")),
                           one("plan-out", tr("take out")),
                           one("undo", tr("undo")),
                           one("keys", tr("all keys"))}
            .join(QStringLiteral("    "));
    const QStringList words = page == Review ? QStringList{pair("step-back", "step-on", tr("angle")),
                                                           pair("motion-back", "motion-on", tr("motion")),
                                                           one("neutral", tr("neutral")),
                                                           one("sweep", tr("sweep")),
                                                           pair("finding-back", "finding-on", tr("finding")),
                                                           one("log-here", tr("log")),
                                                           one("keys", tr("all keys"))}
                                             : QStringList{pair("defect-back", "defect-on", tr("defect")),
                                                           one("assign", tr("give")),
                                                           one("defect-state", tr("state")),
                                                           pair("severity-1", "severity-4", tr("severity")),
                                                           one("show-defect", tr("show in Review")),
                                                           one("undo", tr("undo")),
                                                           one("keys", tr("all keys"))};
    return words.join(QStringLiteral("    "));
}

void MainWindow::refreshTop() {
    const Theme& t = Theme::current();
    if (!session_->subject()) {
        sentence_->setText(tr("<b>Hobble</b>  no character is open"));
    } else {
        QStringList parts;
        if (session_->buildNumber() > 0)
            parts << tr("build %1").arg(session_->buildNumber());
        parts << QString::fromStdString(session_->plan().name);
        if (session_->variant() >= 0)
            parts << QString::fromStdString(
                session_->variants()[static_cast<std::size_t>(session_->variant())].name);
        parts << (session_->run() ? tr("run of %1")
                                        .arg(QLocale(QLocale::English)
                                                 .toString(session_->runAt(), QStringLiteral("dddd HH:mm")))
                                  : tr("not run yet"));
        sentence_->setText(QStringLiteral("<b>%1</b><span style='color:%2'>, %3</span>")
                               .arg(session_->characterTitle().toHtmlEscaped(), t.muted.name(),
                                    parts.join(QStringLiteral(", ")).toHtmlEscaped()));
    }
    const int open = session_->openDefects();
    const std::size_t failing = session_->checks().size();
    const std::size_t changed = session_->changesSinceRun().size();
    planTab_->setText(changed ? tr("Plan  %1 changed").arg(changed) : tr("Plan"));
    intakeTab_->setText(failing ? tr("Intake  %1").arg(failing) : tr("Intake"));
    reviewTab_->setText(session_->run() ? tr("Review  %1").arg(session_->run()->findings.size())
                                        : tr("Review"));
    logTab_->setText(open ? tr("Log  %1 open").arg(open) : tr("Log"));
}

void MainWindow::refreshFoot() {
    const auto run = session_->run();
    if (!run)
        return totals_->setText({});
    int serious = 0, blocking = 0;
    for (const Finding& f : run->findings) {
        serious += f.severity == 3;
        blocking += f.severity == 4;
    }
    totals_->setText(tr("%1 findings, %2 serious, %3 blocking    %4 poses in %5 s")
                         .arg(run->findings.size())
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
    auto* dialog = new LimitsDialog(session_, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->show(); // beside the page: what comes and goes is seen there
}

void MainWindow::dragEnterEvent(QDragEnterEvent* e) {
    if (e->mimeData()->hasUrls() && e->mimeData()->urls().front().isLocalFile())
        e->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* e) { session_->openFile(e->mimeData()->urls().front().toLocalFile()); }

} // namespace hobble
