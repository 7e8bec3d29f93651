#include "app/main_window.h"

#include "app/review/limits_dialog.h"
#include "app/theme.h"

#include <QAction>
#include <QApplication>
#include <QComboBox>
#include <QCompleter>
#include <QDialog>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QGridLayout>
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
    review_ = new ReviewPage(session);
    logPage_ = new LogPage(session);
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
    buildActions();
    qApp->installEventFilter(this);

    auto toDefect = [this](qint64 id) {
        showPage(1);
        logPage_->choose(id);
    };
    connect(review_, &ReviewPage::defectWanted, this, toDefect);
    connect(session, &Session::defectLogged, this, [this, toDefect](qint64 id) {
        logPage_->choose(id);
        say(tr("Logged as defect %1. Give it to somebody on the Log page (Ctrl+2).").arg(id), false);
    });
    connect(logPage_, &LogPage::showInReview, this, [this](qint64 id) {
        for (const Defect& d : session_->defects())
            if (d.id == id) {
                if (!session_->subject() ||
                    d.build.hash != QString::fromStdString(session_->subject()->character->hash))
                    say(tr("Defect %1 was logged on %2, build %3, which is not the build that is open.")
                            .arg(id)
                            .arg(d.build.character)
                            .arg(d.build.number),
                        true);
                showPage(0);
                review_->showDefect(d);
            }
    });
    connect(session, &Session::failed, this, [this](const QString& m) { say(m, true); });
    connect(session, &Session::told, this, [this](const QString& m) { say(m, false); });
    connect(session, &Session::characterChanged, this, [this] {
        messageBar_->hide();
        const auto& notes = session_->subject()->character->notes;
        if (!notes.empty())
            say(QString::fromStdString(notes.front()), false);
        refreshTop();
        fillCommands();
    });
    for (auto signal : {&Session::runChanged, &Session::logChanged, &Session::characterChanged}) {
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
    showPage(0);
}

QWidget* MainWindow::buildTopLine() {
    auto* top = new QWidget;
    auto* row = new QHBoxLayout(top);
    row->setContentsMargins(20, 8, 16, 8);
    row->setSpacing(12);
    sentence_ = new QLabel;
    sentence_->setObjectName(QStringLiteral("topSentence"));
    sentence_->setTextFormat(Qt::RichText);
    sentence_->setFont(typeface(1.15));
    row->addWidget(sentence_, 1);
    command_ = new QLineEdit;
    command_->setObjectName(QStringLiteral("command"));
    command_->setPlaceholderText(tr("Find, or say what to do      Ctrl+K"));
    command_->setAccessibleName(tr("Find, or say what to do"));
    command_->setFixedWidth(270);
    row->addWidget(command_);
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
    reviewTab_ = new QPushButton;
    logTab_ = new QPushButton;
    reviewTab_->setObjectName(QStringLiteral("pageReview"));
    logTab_->setObjectName(QStringLiteral("pageLog"));
    int page = 0;
    for (QPushButton* b : {reviewTab_, logTab_}) {
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
    keys_->setFont(typeface(0.9));
    totals_ = new QLabel;
    totals_->setObjectName(QStringLiteral("totals"));
    totals_->setFont(typeface(0.95));
    row->addWidget(keys_, 1);
    row->addWidget(totals_);
    return foot;
}

QAction* MainWindow::action(const QString& text, const QList<QKeySequence>& keys, std::function<void()> does,
                            QWidget* where) {
    auto* a = new QAction(text, this);
    a->setShortcuts(keys);
    a->setShortcutContext(where == this ? Qt::WindowShortcut : Qt::WidgetWithChildrenShortcut);
    connect(a, &QAction::triggered, this, std::move(does));
    where->addAction(a);
    actions_ << a;
    return a;
}

void MainWindow::buildActions() {
    action(
        tr("Open a character"), {QKeySequence(Qt::CTRL | Qt::Key_O)}, [this] { openDialog(); }, this);
    action(
        tr("Run the plan"), {QKeySequence(Qt::Key_F5)}, [this] { session_->runAgain(); }, this);
    action(
        tr("Stop the work in progress"), {QKeySequence(Qt::Key_Escape)},
        [this] { session_->jobs().cancel(); }, this);
    action(
        tr("Go to Review"), {QKeySequence(Qt::CTRL | Qt::Key_1)}, [this] { showPage(0); }, this);
    action(
        tr("Go to the Log"), {QKeySequence(Qt::CTRL | Qt::Key_2)}, [this] { showPage(1); }, this);
    action(
        tr("Find, or say what to do"), {QKeySequence(Qt::CTRL | Qt::Key_K)},
        [this] {
            command_->setFocus();
            command_->selectAll();
        },
        this);
    action(
        tr("Undo"), {QKeySequence::Undo}, [this] { session_->undoStack().undo(); }, this);
    action(
        tr("Redo"), {QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_Z)},
        [this] { session_->undoStack().redo(); }, this);
    action(
        tr("Limits: what counts as too much"), {QKeySequence(Qt::CTRL | Qt::Key_L)}, [this] { showLimits(); },
        this);
    action(
        tr("Show all keys"), {QKeySequence(Qt::Key_Question)}, [this] { showKeys(); }, this);

    const auto review = [this](const QString& text, Qt::KeyboardModifier m, Qt::Key key,
                               std::function<void()> does) {
        return action(text, {QKeySequence(m | key)}, std::move(does), review_);
    };
    review(tr("One step further"), Qt::NoModifier, Qt::Key_Right, [this] { review_->stepAngle(1); });
    review(tr("One step back"), Qt::NoModifier, Qt::Key_Left, [this] { review_->stepAngle(-1); });
    review(tr("Next onset or peak"), Qt::ShiftModifier, Qt::Key_Right,
           [this] { review_->goToOnsetOrPeak(1); });
    review(tr("Previous onset or peak"), Qt::ShiftModifier, Qt::Key_Left,
           [this] { review_->goToOnsetOrPeak(-1); });
    review(tr("Next motion"), Qt::NoModifier, Qt::Key_Down, [this] { review_->stepMotion(1); });
    review(tr("Previous motion"), Qt::NoModifier, Qt::Key_Up, [this] { review_->stepMotion(-1); });
    review(tr("Neutral"), Qt::NoModifier, Qt::Key_Home, [this] { review_->goNeutral(); });
    review(tr("Sweep the motion"), Qt::NoModifier, Qt::Key_Space, [this] { review_->toggleSweep(); });
    using Over = ReviewPage::SweepOver;
    review(tr("Sweep the limb"), Qt::ShiftModifier, Qt::Key_Space,
           [this] { review_->toggleSweep(Over::Limb); });
    action(
        tr("Sweep the whole plan"), {}, [this] { review_->toggleSweep(Over::Plan); }, review_);
    action(
        tr("Save the picture"), {}, [this] { review_->savePicture(); }, review_);
    action(
        tr("Save the posed mesh"), {}, [this] { review_->savePosedMesh(); }, review_);
    review(tr("Log the defect here"), Qt::NoModifier, Qt::Key_L, [this] { review_->logHere(); });
    review(tr("Lay the other side over"), Qt::NoModifier, Qt::Key_M, [this] { review_->toggleOtherSide(); });
    review(tr("Skeleton through the skin"), Qt::NoModifier, Qt::Key_X, [this] {
        if (Viewport* v = review_->viewport())
            v->setSkeletonShown(!v->skeletonShown());
    });
    review(tr("Wire"), Qt::NoModifier, Qt::Key_W, [this] {
        if (Viewport* v = review_->viewport())
            v->setWireShown(!v->wireShown());
    });
    review(tr("Frame the joint"), Qt::NoModifier, Qt::Key_F, [this] {
        if (Viewport* v = review_->viewport())
            v->frameJoint(session_->joint());
    });
    review(tr("Frame the whole character"), Qt::NoModifier, Qt::Key_H, [this] {
        if (Viewport* v = review_->viewport())
            v->frameAll();
    });
    review(tr("Previous finding"), Qt::NoModifier, Qt::Key_Comma, [this] { review_->stepFinding(-1); });
    review(tr("Next finding"), Qt::NoModifier, Qt::Key_Period, [this] { review_->stepFinding(1); });
    for (const QString& view : {tr("front"), tr("back"), tr("outer"), tr("inner"), tr("along")})
        action(
            tr("Look from: %1").arg(view), {},
            [this, view] {
                if (Viewport* v = review_->viewport())
                    v->lookFrom(view);
            },
            review_);

    const auto log = [this](const QString& text, Qt::Key key, std::function<void()> does) {
        return action(text, {QKeySequence(key)}, std::move(does), logPage_);
    };
    log(tr("Next defect"), Qt::Key_Period, [this] { logPage_->step(1); });
    log(tr("Previous defect"), Qt::Key_Comma, [this] { logPage_->step(-1); });
    log(tr("Assign the defect"), Qt::Key_A, [this] { logPage_->assign(); });
    for (int s = 1; s <= 4; ++s)
        log(tr("Set severity %1").arg(s), Qt::Key(Qt::Key_0 + s), [this, s] { logPage_->setSeverity(s); });
    log(tr("Show the defect in Review"), Qt::Key_R,
        [this] { emit logPage_->showInReview(logPage_->chosen()); });
    action(
        tr("Night theme on or off"), {},
        [this] {
            QSettings().setValue(QStringLiteral("night"), !Theme::current().night);
            Theme::apply(!Theme::current().night);
            review_->restyle();
            refreshTop();
        },
        this);
}

void MainWindow::fillCommands() {
    QStringList words;
    for (QAction* a : actions_)
        words << a->text();
    for (const Motion& m : session_->plan().motions)
        words << tr("Motion: %1%2")
                     .arg(m.side == Side::Middle ? QString()
                                                 : QLatin1String(nameOf(m.side)) + QLatin1Char(' '),
                          QString::fromStdString(m.name));
    auto* completer = new QCompleter(words, command_);
    completer->setCaseSensitivity(Qt::CaseInsensitive);
    completer->setFilterMode(Qt::MatchContains);
    completer->setMaxVisibleItems(12);
    delete command_->completer();
    command_->setCompleter(completer);
    auto does = [this](const QString& text) {
        for (QAction* a : actions_)
            if (a->text().compare(text, Qt::CaseInsensitive) == 0) {
                command_->clear();
                stack_->currentWidget()->setFocus();
                return a->trigger();
            }
        const auto& motions = session_->plan().motions;
        for (int m = 0; m < static_cast<int>(motions.size()); ++m) {
            const QString side = motions[m].side == Side::Middle
                                     ? QString()
                                     : QLatin1String(nameOf(motions[m].side)) + QLatin1Char(' ');
            const QString name = side + QString::fromStdString(motions[m].name);
            if (text.endsWith(name, Qt::CaseInsensitive) &&
                text.startsWith(tr("Motion: "), Qt::CaseInsensitive)) {
                showPage(0);
                review_->strips()->reveal(m);
                session_->setPose(m, motions[m].limit());
                review_->strips()->setFocus();
                QTimer::singleShot(0, command_, &QLineEdit::clear);
                return;
            }
        }
    };
    connect(completer, QOverload<const QString&>::of(&QCompleter::activated), this,
            [this, does](const QString& text) {
                QTimer::singleShot(0, command_,
                                   &QLineEdit::clear); // after the completer has written its word
                does(text);
            });
    disconnect(command_, &QLineEdit::returnPressed, nullptr, nullptr);
    connect(command_, &QLineEdit::returnPressed, this, [this, does] {
        const QString text = command_->completer()->currentCompletion();
        if (!command_->text().isEmpty() && !text.isEmpty())
            does(text);
    });
}

void MainWindow::openDialog() {
    const QString folder = QSettings().value(QStringLiteral("folder")).toString();
    const QString path =
        QFileDialog::getOpenFileName(this, tr("Open a character"), folder, tr("glTF (*.glb *.gltf)"));
    if (path.isEmpty())
        return;
    QSettings().setValue(QStringLiteral("folder"), QFileInfo(path).absolutePath());
    session_->openFile(path);
}

void MainWindow::showPage(int page) {
    stack_->setCurrentIndex(page);
    reviewTab_->setChecked(page == 0);
    logTab_->setChecked(page == 1);
    keys_->setText(
        page == 0
            ? tr("Left, Right angle   Up, Down motion   Home neutral   Space sweep   , . finding   L log   "
                 "? all keys")
            : tr(", . defect   A assign   1 to 4 severity   R show in Review   Ctrl+Z undo   ? all keys"));
    if (page == 0)
        review_->strips()->setFocus();
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
        parts << (session_->run() ? tr("run of %1")
                                        .arg(QLocale(QLocale::English)
                                                 .toString(session_->runAt(), QStringLiteral("dddd HH:mm")))
                                  : tr("not run yet"));
        sentence_->setText(QStringLiteral("<b>%1</b><span style='color:%2'>, %3</span>")
                               .arg(session_->characterTitle().toHtmlEscaped(), t.muted.name(),
                                    parts.join(QStringLiteral(", ")).toHtmlEscaped()));
    }
    int open = 0;
    for (const Defect& d : session_->defects())
        open += d.status == QLatin1String("open") || d.status == QLatin1String("in work");
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
    totals_->setText(
        tr("%1 findings, %2 serious, %3 blocking").arg(run->findings.size()).arg(serious).arg(blocking));
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

void MainWindow::showKeys() {
    auto* dialog = new QDialog(this);
    dialog->setObjectName(QStringLiteral("keys"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(tr("Keys"));
    auto* grid = new QGridLayout(dialog);
    grid->setHorizontalSpacing(32);
    int n = 0;
    const int rows = 14;
    for (QAction* a : actions_) {
        if (a->shortcut().isEmpty())
            continue;
        auto* key = new QLabel(a->shortcut().toString(QKeySequence::NativeText));
        key->setProperty("heading", true);
        grid->addWidget(key, n % rows, 2 * (n / rows));
        grid->addWidget(new QLabel(a->text()), n % rows, 2 * (n / rows) + 1);
        ++n;
    }
    dialog->open();
}

// Keys that a focused button or list uses itself are not taken from it by an action of the page.
bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride) {
        const auto* key = static_cast<QKeyEvent*>(event);
        const bool plain = !(key->modifiers() & (Qt::ControlModifier | Qt::AltModifier));
        const int k = key->key();
        if (plain && ((qobject_cast<QAbstractButton*>(watched) && k == Qt::Key_Space) ||
                      (qobject_cast<QComboBox*>(watched) &&
                       (k == Qt::Key_Up || k == Qt::Key_Down || k == Qt::Key_Space || k == Qt::Key_Home ||
                        k == Qt::Key_End)))) {
            event->accept();
            return true;
        }
    }
    return QMainWindow::eventFilter(watched, event);
}

void MainWindow::dragEnterEvent(QDragEnterEvent* e) {
    if (e->mimeData()->hasUrls() && e->mimeData()->urls().front().isLocalFile())
        e->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* e) { session_->openFile(e->mimeData()->urls().front().toLocalFile()); }

} // namespace hobble
