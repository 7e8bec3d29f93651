// Every action of the window, its usual key, and how it is found by name.
#include "app/keys_dialog.h"
#include "app/main_window.h"
#include "app/manual.h"
#include "app/theme.h"

#include <QAbstractButton>
#include <QComboBox>
#include <QCompleter>
#include <QKeyEvent>
#include <QLineEdit>
#include <QSettings>
#include <QStackedWidget>
#include <QStandardItemModel>
#include <QTimer>

namespace hobble {

void MainWindow::addActions() {
    const auto window = [this](const QString& id, const QString& text, const QKeySequence& key,
                               std::function<void()> does) {
        return book_->add(id, text, key, std::move(does), this);
    };
    window(QStringLiteral("open"), tr("Open a character"), Qt::CTRL | Qt::Key_O, [this] { openDialog(); });
    window(QStringLiteral("open-demo"), tr("Open the demo"), {}, [this] { openDemo(); });
    window(QStringLiteral("run"), tr("Run the plan"), Qt::Key_F5, [this] { session_->run().start(); });
    window(QStringLiteral("stop"), tr("Stop the work in progress"), Qt::Key_Escape,
           [this] { session_->jobs().cancel(); });
    int number = 0;
    for (const Leaf& leaf : pages_)
        window(leaf.page->id(), tr("Go to %1").arg(leaf.page->title()),
               QKeySequence(static_cast<int>(Qt::CTRL) | (Qt::Key_1 + number++)),
               [this, page = leaf.page] { showPage(page); });
    window(QStringLiteral("command"), tr("Find, or say what to do"), Qt::CTRL | Qt::Key_K, [this] {
        command_->setFocus();
        command_->selectAll();
    });
    window(QStringLiteral("undo"), tr("Undo"), QKeySequence::Undo, [this] { session_->undoStack().undo(); });
    window(QStringLiteral("redo"), tr("Redo"), Qt::CTRL | Qt::SHIFT | Qt::Key_Z,
           [this] { session_->undoStack().redo(); });
    window(QStringLiteral("limits"), tr("Limits: what counts as too much"), Qt::CTRL | Qt::Key_L,
           [this] { showLimits(); });
    window(QStringLiteral("keys"), tr("Show and change all keys"), Qt::Key_Question, [this] { showKeys(); });
    const auto read = [this](const QString& page, const QString& anchor) {
        if (!openManual(page, anchor))
            say(tr("The manual cannot be shown: no browser takes it, or its pages are not beside the program "
                   "(share/doc/hobble/manual)."),
                true);
    };
    window(QStringLiteral("manual"), tr("The manual, at this page"), Qt::Key_F1,
           [this, read] { read(shownPage()->id(), {}); });
    window(QStringLiteral("why"), tr("Why does it say this?"), Qt::SHIFT | Qt::Key_F1,
           [this, read] { read(QStringLiteral("why"), manualAnchor(shownPage()->asksWhy())); });
    window(QStringLiteral("night"), tr("Night theme on or off"), {},
           [this] { restyle(!Theme::current().night, Theme::current().textScale); });
    window(QStringLiteral("larger"), tr("Larger text"), Qt::CTRL | Qt::Key_Plus,
           [this] { restyle(Theme::current().night, Theme::current().textScale + 0.1); });
    window(QStringLiteral("smaller"), tr("Smaller text"), Qt::CTRL | Qt::Key_Minus,
           [this] { restyle(Theme::current().night, Theme::current().textScale - 0.1); });
    window(QStringLiteral("usual-text"), tr("Text at its usual size"), Qt::CTRL | Qt::Key_0,
           [this] { restyle(Theme::current().night, 1); });
    for (const Leaf& leaf : pages_)
        leaf.page->addActions(*book_);
    connect(book_, &ActionBook::keysChanged, this, [this] { showPage(shownPage()); });
}

namespace {

constexpr int kCommandId = Qt::UserRole + 1; // what an entry of the command box stands for
const QString kAction = QStringLiteral("action:"), kOpen = QStringLiteral("open:"),
              kMotion = QStringLiteral("motion:");

} // namespace

// Entries are found by their ids, whatever the words say.
void MainWindow::fillCommands() {
    auto* entries = new QStandardItemModel;
    const auto entry = [&](const QString& words, const QString& id) {
        auto* item = new QStandardItem(words);
        item->setData(id, kCommandId);
        entries->appendRow(item);
    };
    for (const QAction* a : book_->actions())
        entry(a->text(), kAction + a->objectName());
    for (const QString& path : session_->build().recent())
        entry(tr("Open again: %1").arg(path), kOpen + path);
    for (const Motion& m : session_->plan().plan().motions)
        entry(tr("Motion: %1").arg(QString::fromStdString(wordsFor(m))),
              kMotion + QString::fromStdString(m.id));
    auto* completer = new QCompleter(entries, command_);
    entries->setParent(completer);
    completer->setCaseSensitivity(Qt::CaseInsensitive);
    completer->setFilterMode(Qt::MatchContains);
    completer->setMaxVisibleItems(12);
    delete command_->completer();
    command_->setCompleter(completer);
    connect(completer, QOverload<const QModelIndex&>::of(&QCompleter::activated), this,
            [this](const QModelIndex& at) {
                const QString id = at.data(kCommandId).toString();
                QTimer::singleShot(0, command_,
                                   &QLineEdit::clear); // after the completer has written its word
                command(id);
            });
    disconnect(command_, &QLineEdit::returnPressed, nullptr, nullptr);
    connect(command_, &QLineEdit::returnPressed, this, [this] {
        const QModelIndex at = command_->completer()->currentIndex();
        if (!command_->text().isEmpty() && at.isValid())
            command(at.data(kCommandId).toString());
    });
}

void MainWindow::command(const QString& id) {
    if (id.startsWith(kAction)) {
        QAction* action = book_->find(id.mid(kAction.size()));
        command_->clear();
        stack_->currentWidget()->setFocus();
        if (action)
            action->trigger();
    } else if (id.startsWith(kOpen)) {
        command_->clear();
        session_->build().open(id.mid(kOpen.size()));
    } else if (id.startsWith(kMotion)) {
        const int m = session_->plan().plan().find(id.mid(kMotion.size()).toStdString());
        const Motion* motion = session_->plan().motion(m);
        if (!motion)
            return;
        showPage(review_);
        review_->strips()->reveal(m);
        session_->run().setPose(m, motion->limit());
        QTimer::singleShot(0, command_, &QLineEdit::clear);
    }
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
    for (const Leaf& leaf : pages_)
        leaf.page->restyle();
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
