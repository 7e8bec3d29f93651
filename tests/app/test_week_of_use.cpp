// A week of use in a minute: random but legal actions in the real window, from the action book, by the mouse
// and by typing. A seed chooses the same again, as far as what is worked out meanwhile comes in the same
// order. HOBBLE_SOAK_STEPS and HOBBLE_SOAK_SEED make it longer, or another one (scripts/soak, under the
// sanitizers).
#include "app/action_book.h"
#include "io/plan_json.h"
#include "support/window_test.h"

#include <QAbstractButton>
#include <QAbstractItemView>
#include <QApplication>
#include <QDialog>
#include <QDir>
#include <QFile>
#include <QSqlDatabase>
#include <QSqlQuery>
#include <QTimer>

#include <random>

using namespace hobble;
using namespace hobble::test;

namespace {

QStringList complaints;
QtMessageHandler usual = nullptr;

// What Qt itself complains about is a fault of ours, or of the display's.
void listen(QtMsgType type, const QMessageLogContext& context, const QString& message) {
    const bool display = QLatin1String(context.category).startsWith(QLatin1String("qt.qpa.xcb")) ||
                         message.contains(QLatin1String("xcb")) || message.contains(QLatin1String("XKB")) ||
                         message.contains(QLatin1String("propagateSizeHints"));
    if (type != QtDebugMsg && type != QtInfoMsg && !display)
        complaints << message;
    usual(type, context, message);
}

qint64 bytesInMemory() {
    QFile statm(QStringLiteral("/proc/self/statm"));
    if (!statm.open(QIODevice::ReadOnly))
        return 0;
    return statm.readAll().split(' ').value(1).toLongLong() * 4096;
}

} // namespace

class TestWeekOfUse : public QObject {
    Q_OBJECT

    std::unique_ptr<TestWindow> w_;
    Session* session_ = nullptr;
    std::mt19937 random_;
    QStringList done_;

    ActionBook& book() const { return *w_->window->findChild<ActionBook*>(); }
    int anyOf(std::size_t count) { return int(random_() % std::max<std::size_t>(count, 1)); }
    void did(const QString& what) { done_ << what; }

    template <class W> QList<W*> visible(const std::function<bool(W*)>& also = {}) const {
        QList<W*> out;
        for (W* w : w_->window->findChildren<W*>())
            if (w->isVisible() && w->isEnabled() && !w->visibleRegion().isEmpty() && (!also || also(w)))
                out << w;
        return out;
    }

    // What asks something is answered, at random; a question of the file dialog is not.
    void answer() {
        if (auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget())) {
            QList<QAction*> offered;
            for (QAction* a : menu->actions())
                if (a->isEnabled() && !a->isSeparator() && !a->menu())
                    offered << a;
            QAction* chosen =
                offered.isEmpty() || anyOf(3) == 0 ? nullptr : offered[anyOf(std::size_t(offered.size()))];
            menu->close();
            if (chosen) {
                did(QStringLiteral("  from the menu: ") + chosen->text());
                chosen->trigger();
            }
        } else if (QWidget* popup = QApplication::activePopupWidget()) {
            popup->close();
        } else if (auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget())) {
            const bool file = dialog->inherits("QFileDialog");
            did(QStringLiteral("  dialog ") + dialog->windowTitle());
            if (file || anyOf(2) == 0)
                dialog->reject();
            else
                dialog->accept();
        }
    }

    void anAction() {
        // what leaves the window, opens another build or never ends
        static const QStringList besides{QStringLiteral("manual"), QStringLiteral("why"),
                                         QStringLiteral("open"), QStringLiteral("open-demo")};
        QList<QAction*> offered;
        for (QAction* a : book().actions())
            if (a->isEnabled() && !besides.contains(a->objectName()) &&
                (book().placeOf(a) == w_->window.get() || book().placeOf(a)->isVisible()))
                offered << a;
        QAction* a = offered[anyOf(std::size_t(offered.size()))];
        did(a->text());
        a->trigger();
    }
    void aPage() {
        QList<QAction*> to;
        for (QAction* a : book().actions())
            if (book().placeOf(a) == w_->window.get() && a->text().startsWith(QLatin1String("Go to")))
                to << a;
        QAction* a = to[anyOf(std::size_t(to.size()))];
        did(a->text());
        a->trigger();
    }
    void aButton() {
        const auto buttons = visible<QAbstractButton>(
            [](QAbstractButton* b) { return !b->text().contains(QLatin1String("demo")); });
        if (buttons.isEmpty())
            return;
        QAbstractButton* b = buttons[anyOf(std::size_t(buttons.size()))];
        did(QStringLiteral("press ") + b->objectName() + QLatin1Char(' ') + b->text());
        QTest::mouseClick(b, Qt::LeftButton);
    }
    void anItem() {
        const auto lists = visible<QAbstractItemView>();
        if (lists.isEmpty())
            return;
        QAbstractItemView* list = lists[anyOf(std::size_t(lists.size()))];
        const QPoint at(anyOf(std::size_t(list->viewport()->width())),
                        anyOf(std::size_t(list->viewport()->height())));
        did(QStringLiteral("press in ") + list->objectName());
        QTest::mouseClick(list->viewport(), Qt::LeftButton,
                          anyOf(4) == 0 ? Qt::ControlModifier : Qt::NoModifier, at);
        if (anyOf(6) == 0)
            QTest::mouseDClick(list->viewport(), Qt::LeftButton, {}, at);
    }
    void aDrag() {
        const auto widgets = visible<QWidget>(
            [](QWidget* w) { return w->width() > 60 && w->height() > 30 && !w->isWindow(); });
        QWidget* w = widgets[anyOf(std::size_t(widgets.size()))];
        const auto point = [&] {
            return QPoint(anyOf(std::size_t(w->width())), anyOf(std::size_t(w->height())));
        };
        const QPoint from = point(), to = point();
        const Qt::MouseButton button = anyOf(4) == 0 ? Qt::MiddleButton : Qt::LeftButton;
        did(QStringLiteral("drag in ") + QLatin1String(w->metaObject()->className()) + QLatin1Char(' ') +
            w->objectName());
        QTest::mousePress(w, button, {}, from);
        for (int i = 1; i <= 4; ++i)
            QTest::mouseMove(w, from + (to - from) * i / 4);
        QTest::mouseRelease(w, button, {}, to);
    }
    void someKeys() {
        static const Qt::Key keys[] = {
            Qt::Key_Left,     Qt::Key_Right,  Qt::Key_Up,     Qt::Key_Down, Qt::Key_Tab, Qt::Key_Space,
            Qt::Key_Return,   Qt::Key_Escape, Qt::Key_Delete, Qt::Key_Home, Qt::Key_End, Qt::Key_PageUp,
            Qt::Key_PageDown, Qt::Key_A,      Qt::Key_G,      Qt::Key_1,    Qt::Key_4};
        QWidget* to = w_->window->focusWidget() ? w_->window->focusWidget() : w_->window.get();
        for (int i = 0; i < 3; ++i) {
            const Qt::Key key = keys[anyOf(std::size(keys))];
            did(QStringLiteral("key ") + QKeySequence(key).toString());
            QTest::keyClick(to, key, anyOf(5) == 0 ? Qt::ShiftModifier : Qt::NoModifier);
            to = w_->window->focusWidget() ? w_->window->focusWidget() : w_->window.get();
        }
    }
    void someText() {
        static const char* const words[] = {
            "elbow", "left", "severity>2", "\"", "=1+1", "90", "-5", "", "the knee is thin, look at 120°",
            "%1 %2"};
        const auto boxes = visible<QLineEdit>();
        if (boxes.isEmpty())
            return;
        QLineEdit* box = boxes[anyOf(std::size_t(boxes.size()))];
        const QString text = QString::fromUtf8(words[anyOf(std::size(words))]);
        did(QStringLiteral("type \"%1\" into %2").arg(text, box->objectName()));
        box->setFocus();
        box->selectAll();
        QTest::keyClicks(box, text);
        if (box->objectName() != QLatin1String("command")) // it would take whatever comes first
            QTest::keyClick(box, Qt::Key_Return);
        else
            box->clear();
    }
    void undoOrRedo() {
        const bool redo = anyOf(3) == 0;
        did(redo ? QStringLiteral("redo") : QStringLiteral("undo"));
        if (redo)
            session_->undoStack().redo();
        else
            session_->undoStack().undo();
    }
    void aStep() {
        const int kind = anyOf(20);
        kind < 5    ? anAction()
        : kind < 7  ? aPage()
        : kind < 10 ? aButton()
        : kind < 13 ? anItem()
        : kind < 15 ? aDrag()
        : kind < 17 ? someKeys()
        : kind < 18 ? someText()
                    : undoOrRedo();
    }
    // What takes long is stopped, as a person would.
    bool idle() {
        const auto rests = [this] { return !session_->jobs().busy(); };
        for (int queued = 0; queued < 20; ++queued) {
            if (QTest::qWaitFor(rests, 20000))
                return true;
            did(QStringLiteral("stop"));
            session_->jobs().cancel();
        }
        return false;
    }
    // What undoing everything has to bring back.
    QString state() const {
        QString out = QString::fromStdString(
            planToJson(session_->plan().plan(), *session_->build().subject()->character));
        out += QStringLiteral("\n%1 open defects, %2 people")
                   .arg(session_->log().openDefects())
                   .arg(session_->log().people().size());
        out += QStringLiteral("\nreference %1").arg(session_->log().reference().has_value());
        return out;
    }
    QString story(qsizetype last) const {
        return done_.mid(std::max<qsizetype>(0, done_.size() - last)).join(QLatin1String("\n  "));
    }

private slots:
    void initTestCase() {
        random_.seed(static_cast<unsigned>(qEnvironmentVariableIntValue("HOBBLE_SOAK_SEED")) + 7);
        w_ = std::make_unique<TestWindow>(QStringLiteral("week"), true);
        session_ = w_->session.get();
        QVERIFY(QDir::setCurrent(w_->folder.path())); // what is typed may be taken for a file's name
        session_->log().open(w_->folder.filePath(QStringLiteral("log.sqlite")));
        const QString build = w_->folder.filePath(QStringLiteral("goat.glb"));
        QVERIFY(QFile::copy(QStringLiteral(HOBBLE_DEMO_DIR "/pack-goat.glb"), build));
        QVERIFY(w_->openAndRun(build));
        QTRY_VERIFY(session_->log().state() == LogState::Ready);
        QVERIFY(idle());
        usual = qInstallMessageHandler(listen);
    }

    void aWeek() {
        const int steps = std::max(qEnvironmentVariableIntValue("HOBBLE_SOAK_STEPS"), 250);
        const QString start = state();
        QTimer answers;
        connect(&answers, &QTimer::timeout, this, [this] { answer(); });
        answers.start(30);
        qint64 early = 0;
        for (int i = 0; i < steps; ++i) {
            aStep();
            comeToRest();
            QVERIFY2(w_->window->isVisible(), qPrintable(story(5)));
            for (QWidget* other : QApplication::topLevelWidgets()) // what opened beside it
                if (other->isVisible() && other != w_->window.get() && anyOf(8) == 0)
                    other->close();
            if (i % 25 == 24)
                QVERIFY2(idle(), qPrintable(QStringLiteral("never idle again after\n  ") + story(25)));
            QVERIFY2(complaints.isEmpty(), qPrintable(complaints.join(QLatin1Char('\n')) +
                                                      QStringLiteral("\nafter\n  ") + story(5)));
            if (i == 150)
                early = bytesInMemory();
        }
        QVERIFY(idle());
        const qint64 grown = (bytesInMemory() - early) / (1 << 20);
        qInfo("%d steps, %lld MB more than after 150", steps, static_cast<long long>(grown));
        QVERIFY2(grown < 600, qPrintable(QStringLiteral("%1 MB").arg(grown)));
        // Everything taken back is the start.
        QUndoStack& undo = session_->undoStack();
        for (int left = undo.count() + 5; undo.canUndo() && left > 0; --left) {
            undo.undo();
            comeToRest();
        }
        QVERIFY(!undo.canUndo());
        QVERIFY(idle());
        const auto firstDifference = [&] { // the whole of it is too long to be read
            const auto now = state();
            const auto at =
                std::mismatch(now.begin(), now.end(), start.begin(), start.end()).first - now.begin();
            const auto from = std::max<qsizetype>(0, at - 60);
            return QStringLiteral("at %1 of %2: %3 … and at the start: %4")
                .arg(at)
                .arg(start.size())
                .arg(now.mid(from, 200), start.mid(from, 200));
        };
        QTRY_VERIFY2(state() == start, qPrintable(firstDifference()));
    }

    void theLogIsWhole() {
        qInstallMessageHandler(usual);
        {
            QSqlDatabase db = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), QStringLiteral("whole"));
            db.setDatabaseName(w_->folder.filePath(QStringLiteral("log.sqlite")));
            QVERIFY(db.open());
            QSqlQuery q(db);
            QVERIFY(q.exec(QStringLiteral("PRAGMA integrity_check")) && q.next());
            QCOMPARE(q.value(0).toString(), QStringLiteral("ok"));
            QVERIFY(q.exec(QStringLiteral("PRAGMA foreign_key_check")));
            QVERIFY(!q.next());
        }
        QSqlDatabase::removeDatabase(QStringLiteral("whole"));
        w_.reset();
    }
};

HOBBLE_TEST(TestWeekOfUse)
#include "test_week_of_use.moc"
