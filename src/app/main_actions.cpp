// Every action of the window, its usual key, and how it is found by name.
#include "app/intake/builds_pane.h"
#include "app/keys_dialog.h"
#include "app/main_window.h"
#include "app/session/plan_desk.h"
#include "app/theme.h"

#include <QAbstractButton>
#include <QComboBox>
#include <QCompleter>
#include <QKeyEvent>
#include <QLineEdit>
#include <QSettings>
#include <QStackedWidget>
#include <QTimer>

namespace hobble {

void MainWindow::buildActions() {
    const auto window = [this](const char* id, const QString& text, const QKeySequence& key,
                               std::function<void()> does) {
        return book_->add(QLatin1String(id), text, key, std::move(does), this);
    };
    window("open", tr("Open a character"), Qt::CTRL | Qt::Key_O, [this] { openDialog(); });
    window("run", tr("Run the plan"), Qt::Key_F5, [this] { session_->runAgain(); });
    window("stop", tr("Stop the work in progress"), Qt::Key_Escape, [this] { session_->jobs().cancel(); });
    window("intake", tr("Go to Intake"), Qt::CTRL | Qt::Key_1, [this] { showPage(Intake); });
    window("plan", tr("Go to the Plan"), Qt::CTRL | Qt::Key_2, [this] { showPage(Plan); });
    window("review", tr("Go to Review"), Qt::CTRL | Qt::Key_3, [this] { showPage(Review); });
    window("log", tr("Go to the Log"), Qt::CTRL | Qt::Key_4, [this] { showPage(Log); });
    window("watch", tr("Watch a folder for new builds"), {}, [this] {
        showPage(Intake);
        intake_->showBuilds();
        intake_->builds()->askFolder();
    });
    window("intake-limits", tr("Limits of Intake: what counts as unfit"), {}, [this] {
        showPage(Intake);
        intake_->showLimits();
    });
    window("command", tr("Find, or say what to do"), Qt::CTRL | Qt::Key_K, [this] {
        command_->setFocus();
        command_->selectAll();
    });
    window("undo", tr("Undo"), QKeySequence::Undo, [this] { session_->undoStack().undo(); });
    window("redo", tr("Redo"), Qt::CTRL | Qt::SHIFT | Qt::Key_Z, [this] { session_->undoStack().redo(); });
    window("limits", tr("Limits: what counts as too much"), Qt::CTRL | Qt::Key_L, [this] { showLimits(); });
    window("keys", tr("Show and change all keys"), Qt::Key_Question, [this] { showKeys(); });
    window("night", tr("Night theme on or off"), {},
           [this] { restyle(!Theme::current().night, Theme::current().textScale); });
    window("larger", tr("Larger text"), Qt::CTRL | Qt::Key_Plus,
           [this] { restyle(Theme::current().night, Theme::current().textScale + 0.1); });
    window("smaller", tr("Smaller text"), Qt::CTRL | Qt::Key_Minus,
           [this] { restyle(Theme::current().night, Theme::current().textScale - 0.1); });
    window("usual-text", tr("Text at its usual size"), Qt::CTRL | Qt::Key_0,
           [this] { restyle(Theme::current().night, 1); });
    buildIntakeActions();
    buildPlanActions();
    buildReviewActions();
    buildLogActions();
    connect(book_, &ActionBook::keysChanged, this, [this] { showPage(stack_->currentIndex()); });
}

void MainWindow::buildIntakeActions() {
    const auto intake = [this](const char* id, const QString& text, const QKeySequence& key,
                               std::function<void()> does) {
        return book_->add(QLatin1String(id), text, key, std::move(does), intake_);
    };
    intake("check-on", tr("Next check that fails"), Qt::Key_Period, [this] { intake_->stepCheck(1); });
    intake("check-back", tr("Previous check that fails"), Qt::Key_Comma, [this] { intake_->stepCheck(-1); });
    intake("tell-rigger", tr("Tell the rigger of this check"), Qt::Key_L, [this] { intake_->tellRigger(); });
    intake("passed", tr("Show the checks that passed, or not"), Qt::Key_P,
           [this] { intake_->togglePassed(); });
    intake("joints", tr("Show what the joints are"), Qt::Key_J, [this] { intake_->showJoints(); });
    intake("builds", tr("Show the builds of this character"), Qt::Key_B, [this] { intake_->showBuilds(); });
}

void MainWindow::buildPlanActions() {
    const auto plan = [this](const char* id, const QString& text, const QKeySequence& key,
                             std::function<void()> does) {
        return book_->add(QLatin1String(id), text, key, std::move(does), planPage_);
    };
    PlanDesk* desk = session_->desk();
    plan("plan-run", tr("Run the plan and go to Review"), Qt::CTRL | Qt::Key_Return,
         [this] { planPage_->runPlan(); });
    plan("plan-out", tr("Take the chosen motion out of the plan"), Qt::Key_Delete,
         [this] { planPage_->takeOut(); });
    plan("pose-neutral", tr("Neutral pose"), Qt::Key_Home, [desk] { desk->neutral(); });
    plan("pose-mirror", tr("Mirror the pose"), Qt::Key_M, [desk] { desk->mirror(); });
    plan("pose-from-right", tr("Pose the left side as the right"), {},
         [desk] { desk->copyFrom(Side::Right); });
    plan("pose-from-left", tr("Pose the right side as the left"), {}, [desk] { desk->copyFrom(Side::Left); });
    plan("pose-whole", tr("Frame the whole character to be posed"), Qt::Key_H, [this] {
        if (Viewport* v = planPage_->viewport())
            v->frameAll();
    });
    plan("plan-standard", tr("Take the standard plan"), {}, [desk] { desk->takeStandardPlan(); });
    for (const auto& [id, text, pane] :
         {std::tuple("pane-poses", tr("Show the pose shelf"), PlanPage::Poses),
          {"pane-clips", tr("Take poses from a clip"), PlanPage::Clips},
          {"pane-variants", tr("Show the variants of the build"), PlanPage::Variants},
          {"pane-versions", tr("Show the plan's versions"), PlanPage::Versions}})
        book_->add(
            QLatin1String(id), text, {},
            [this, pane = pane] {
                showPage(Plan);
                planPage_->showPane(pane);
            },
            this);
}

void MainWindow::buildReviewActions() {
    const auto review = [this](const char* id, const QString& text, const QKeySequence& key,
                               std::function<void()> does) {
        return book_->add(QLatin1String(id), text, key, std::move(does), review_);
    };
    review("step-on", tr("One step further"), Qt::Key_Right, [this] { review_->stepAngle(1); });
    review("step-back", tr("One step back"), Qt::Key_Left, [this] { review_->stepAngle(-1); });
    review("peak-on", tr("Next onset or peak"), Qt::SHIFT | Qt::Key_Right,
           [this] { review_->goToOnsetOrPeak(1); });
    review("peak-back", tr("Previous onset or peak"), Qt::SHIFT | Qt::Key_Left,
           [this] { review_->goToOnsetOrPeak(-1); });
    review("motion-on", tr("Next motion"), Qt::Key_Down, [this] { review_->stepMotion(1); });
    review("motion-back", tr("Previous motion"), Qt::Key_Up, [this] { review_->stepMotion(-1); });
    review("neutral", tr("Neutral"), Qt::Key_Home, [this] { review_->goNeutral(); });
    review("fold", tr("Fold or open the limb's strips"), Qt::Key_T,
           [this] { review_->strips()->foldChosen(); });
    using Over = Sweep::Over;
    review("sweep", tr("Sweep the motion"), Qt::Key_Space,
           [this] { review_->sweep()->toggle(Over::Motion); });
    review("sweep-limb", tr("Sweep the limb"), Qt::SHIFT | Qt::Key_Space,
           [this] { review_->sweep()->toggle(Over::Limb); });
    review("sweep-plan", tr("Sweep the whole plan"), {}, [this] { review_->sweep()->toggle(Over::Plan); });
    review("sweep-pause", tr("Rest on the worst angle while sweeping, or not"), {},
           [this] { review_->sweep()->setPausesOnPeaks(!review_->sweep()->pausesOnPeaks()); });
    review("chart", tr("Chart of this motion's measures"), Qt::Key_C, [this] { review_->showChart(); });
    review("picture", tr("Save the picture"), {}, [this] { review_->savePicture(); });
    review("mesh", tr("Save the posed mesh"), {}, [this] { review_->savePosedMesh(); });
    review("log-here", tr("Log the defect here"), Qt::Key_L, [this] { review_->logHere(); });
    review("other-side", tr("Lay the other side over"), Qt::Key_M, [this] { review_->toggleOtherSide(); });
    review("finding-back", tr("Previous finding"), Qt::Key_Comma, [this] { review_->stepFinding(-1); });
    review("finding-on", tr("Next finding"), Qt::Key_Period, [this] { review_->stepFinding(1); });

    const auto shown = [&](const char* id, const QString& text, const QKeySequence& key,
                           std::function<void(Shown&)> change) {
        review(id, text, key, [this, change = std::move(change)] { review_->stage()->changeShown(change); });
    };
    shown("skeleton", tr("Skeleton through the skin"), Qt::Key_X, [](Shown& s) { s.skeleton = !s.skeleton; });
    shown("wire", tr("Wire"), Qt::Key_W, [](Shown& s) { s.wire = !s.wire; });
    shown("smooth", tr("Smooth preview with the true vertices"), Qt::Key_V,
          [](Shown& s) { s.smooth = !s.smooth; });
    shown("patch", tr("Marked patch of the finding"), {}, [](Shown& s) { s.patch = !s.patch; });
    shown("contact-lines", tr("Contact lines"), {}, [](Shown& s) { s.contactLines = !s.contactLines; });
    for (const auto& [id, text, key, ghost] :
         {std::tuple("ghost", tr("Ghost of the neutral"), QKeySequence(Qt::Key_G), Ghost::Neutral),
          {"ghost-before", tr("Ghost of the step before"), QKeySequence(), Ghost::StepBefore},
          {"ghost-after", tr("Ghost of the step after"), QKeySequence(), Ghost::StepAfter}})
        shown(id, text, key, [ghost = ghost](Shown& s) { s.ghost = s.ghost == ghost ? Ghost::None : ghost; });
    review("isolate", tr("Show only this limb, only its region, or all"), Qt::Key_I,
           [this] { review_->stage()->stepIsolation(); });

    const auto view = [&](const char* id, const QString& text, const QKeySequence& key,
                          std::function<void(Viewport*)> does) {
        review(id, text, key, [this, does = std::move(does)] {
            if (Viewport* v = review_->viewport())
                does(v);
        });
    };
    view("frame-joint", tr("Frame the joint"), Qt::Key_F,
         [this](Viewport* v) { v->frameJoint(session_->joint()); });
    view("frame-all", tr("Frame the whole character"), Qt::Key_H, [](Viewport* v) { v->frameAll(); });
    for (const auto& [id, name] : {std::pair("look-front", tr("front")),
                                   {"look-back", tr("back")},
                                   {"look-outer", tr("outer")},
                                   {"look-inner", tr("inner")},
                                   {"look-along", tr("along")}})
        view(id, tr("Look from: %1").arg(name), {}, [name = name](Viewport* v) { v->lookFrom(name); });
    for (int c = 0; c < kColourings; ++c) {
        const auto colouring = static_cast<Colouring>(c);
        const QByteArray id = "colour-" + QByteArray::number(c);
        view(id.constData(), tr("Colour by: %1").arg(nameOf(colouring)), {}, [colouring](Viewport* v) {
            v->setWeightJoint(-1);
            v->setColouring(colouring);
        });
    }
    view("mark-brush", tr("Mark skin with a brush"), Qt::Key_B, [](Viewport* v) {
        v->setMarkTool(v->markTool() == MarkTool::Brush ? MarkTool::None : MarkTool::Brush);
    });
    view("mark-lasso", tr("Mark skin with a lasso"), {}, [](Viewport* v) {
        v->setMarkTool(v->markTool() == MarkTool::Lasso ? MarkTool::None : MarkTool::Lasso);
    });
    view("mark-region", tr("Mark the skin around the joint"), {}, [](Viewport* v) { v->markRegion(); });
    view("mark-clear", tr("Clear what is marked"), {}, [](Viewport* v) { v->clearMarks(); });
    review("mark-log", tr("Log what is marked"), {}, [this] { review_->logMarked(); });
}

void MainWindow::buildLogActions() {
    const auto log = [this](const char* id, const QString& text, const QKeySequence& key,
                            std::function<void()> does) {
        return book_->add(QLatin1String(id), text, key, std::move(does), logPage_);
    };
    log("defect-on", tr("Next defect"), Qt::Key_Period, [this] { logPage_->step(1); });
    log("defect-back", tr("Previous defect"), Qt::Key_Comma, [this] { logPage_->step(-1); });
    Triage* triage = logPage_->triage();
    log("assign", tr("Give the chosen defects to somebody"), Qt::Key_A, [triage] { triage->assign(); });
    for (int s = 1; s <= 4; ++s) {
        const QByteArray id = "severity-" + QByteArray::number(s);
        log(id.constData(), tr("Set severity %1").arg(s), QKeySequence(Qt::Key_0 + s),
            [triage, s] { triage->setSeverity(s); });
    }
    log("defect-state", tr("Move the chosen defects on"), Qt::Key_S, [triage] { triage->askState(); });
    log("defect-out", tr("Say why it is no fault to fix"), Qt::Key_N, [triage] { triage->askWayOut(); });
    log("defect-due", tr("Say by which build it is due"), Qt::Key_D, [triage] { triage->askDue(); });
    log("defect-merge", tr("Merge defects that are the same"), Qt::Key_G, [triage] { triage->merge(); });
    log("defect-split", tr("Take something out of a defect"), Qt::Key_P, [triage] { triage->split(); });
    log("defect-comment", tr("Comment on the defect"), Qt::Key_C,
        [this] { logPage_->panel()->focusComment(); });
    log("defect-comment-all", tr("Comment on all chosen defects"), Qt::SHIFT | Qt::Key_C,
        [triage] { triage->askComment(); });
    log("defect-find", tr("Find in the log"), Qt::Key_Slash, [this] { logPage_->filters()->focusSearch(); });
    log("workload", tr("Show who has how much"), Qt::Key_W, [this] { logPage_->showWorkload(true); });
    log("defect-list", tr("Show the defects"), Qt::Key_L, [this] { logPage_->showWorkload(false); });
    const auto anywhere = [this](const char* id, const QString& text, std::function<void()> does) {
        book_->add(
            QLatin1String(id), text, {},
            [this, does = std::move(does)] {
                showPage(Log);
                does();
            },
            this);
    };
    anywhere("send", tr("Send out packets, pages or tables"), [this] { logPage_->send(); });
    anywhere("roster", tr("Edit the roster"), [this] { logPage_->editRoster(); });
    anywhere("log-open", tr("Open another log"), [this] { logPage_->openAnother(); });
    anywhere("log-backup", tr("Back up the log"), [this] { logPage_->backUp(); });
    anywhere("log-restore", tr("Restore the log from a backup"), [this] { logPage_->restore(); });
    anywhere("log-take-in", tr("Take a table or a log into this one"), [this] { logPage_->takeIn(); });
    log("show-defect", tr("Show the defect in Review"), Qt::Key_R,
        [this] { emit logPage_->showInReview(logPage_->chosen()); });
}

void MainWindow::fillCommands() {
    QStringList words;
    for (QAction* a : book_->actions())
        words << a->text();
    for (const QString& path : session_->recent())
        words << tr("Open again: %1").arg(path);
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
        for (QAction* a : book_->actions())
            if (a->text().compare(text, Qt::CaseInsensitive) == 0) {
                command_->clear();
                stack_->currentWidget()->setFocus();
                return a->trigger();
            }
        for (const QString& path : session_->recent())
            if (text == tr("Open again: %1").arg(path)) {
                command_->clear();
                return session_->openFile(path);
            }
        const auto& motions = session_->plan().motions;
        for (int m = 0; m < static_cast<int>(motions.size()); ++m) {
            const QString side = motions[m].side == Side::Middle
                                     ? QString()
                                     : QLatin1String(nameOf(motions[m].side)) + QLatin1Char(' ');
            const QString name = side + QString::fromStdString(motions[m].name);
            if (text.endsWith(name, Qt::CaseInsensitive) &&
                text.startsWith(tr("Motion: "), Qt::CaseInsensitive)) {
                showPage(Review);
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

void MainWindow::showKeys() {
    auto* dialog = new KeysDialog(book_, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->open();
}

void MainWindow::restyle(bool night, double textScale) {
    Theme::apply(night, textScale);
    QSettings().setValue(QStringLiteral("night"), night);
    QSettings().setValue(QStringLiteral("textScale"), Theme::current().textScale);
    review_->restyle();
    refreshTop();
}

// Keys that a focused button or list uses itself are not taken from it by an action of the page.
bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride) {
        const auto* key = static_cast<QKeyEvent*>(event);
        const bool plain = !(key->modifiers() & (Qt::ControlModifier | Qt::AltModifier));
        const int k = key->key();
        if (plain && ((qobject_cast<QAbstractButton*>(watched) && k == Qt::Key_Space) ||
                      (qobject_cast<QComboBox*>(watched) && // a letter finds an entry
                       (!key->text().trimmed().isEmpty() || k == Qt::Key_Up || k == Qt::Key_Down ||
                        k == Qt::Key_Space || k == Qt::Key_Home || k == Qt::Key_End)))) {
            event->accept();
            return true;
        }
    }
    return QMainWindow::eventFilter(watched, event);
}

} // namespace hobble
