// Nothing is clipped: at 1280 × 800, in both themes, at larger text, in every state of the pages. Every key
// can be changed, every action is found by name, everything pressed has a name.
#include "app/session/plan_desk.h"
#include "support/clipped.h"
#include "support/window_test.h"

#include <QTreeView>

#include "app/keys_dialog.h"

#include <QAbstractItemView>
#include <QComboBox>
#include <QCompleter>
#include <QLineEdit>
#include <QScreen>
#include <QScrollArea>
#include <QScrollBar>
#include <QSlider>
#include <QSplitter>
#include <QTableWidget>

#include <set>

using namespace hobble;
using namespace hobble::test;

class TestLooksAndKeys : public QObject {
    Q_OBJECT

    std::unique_ptr<TestWindow> w_;

    void nothingIsClipped(const QString& where) const { QVERIFY2(isWhole(*w_->window, where), "see above"); }
    // All pages and states that the open character offers.
    void allStates(const QString& look) {
        auto& session = *w_->session;
        IntakePage* intake = w_->window->intake();
        w_->window->showPage(w_->window->intake());
        nothingIsClipped(look + QStringLiteral(", intake"));
        for (int c = 0; c < int(session.build().checks().size()); c += 3) {
            session.build().selectCheck(c);
            nothingIsClipped(look + QStringLiteral(", check %1").arg(c));
        }
        intake->showBuilds();
        nothingIsClipped(look + QStringLiteral(", builds"));
        intake->showJoints();
        PlanPage* plan = w_->window->planPage();
        w_->window->showPage(w_->window->planPage());
        auto* motions = static_cast<PlanModel*>(plan->motions()->model());
        if (const int raise = session.plan().plan().find("left-shoulder-raise"); raise >= 0)
            plan->motions()->setCurrentIndex(motions->indexOf(raise));
        for (const auto& [pane, name] : {std::pair(PlanPage::Poses, "poses"),
                                         {PlanPage::Clips, "clips"},
                                         {PlanPage::Variants, "variants"},
                                         {PlanPage::Versions, "versions"}}) {
            plan->showPane(pane);
            nothingIsClipped(look + QStringLiteral(", plan, ") + QLatin1String(name));
        }
        if (session.run().run() && !session.pose().clip()) {
            session.pose().openClip(QStringLiteral(HOBBLE_DEMO_DIR "/long-limbed.bvh"));
            QVERIFY(QTest::qWaitFor([&] { return session.pose().clip() && !session.jobs().busy(); }, 60000));
        }
        plan->showPane(PlanPage::Clips);
        nothingIsClipped(look + QStringLiteral(", plan, a clip"));
        w_->window->showPage(w_->window->review());
        nothingIsClipped(look + QStringLiteral(", review"));
        if (!session.run().run())
            return;
        for (int f : {0, int(session.run().run()->findings.size()) / 2,
                      int(session.run().run()->findings.size()) - 1})
            if (f >= 0 && f < int(session.run().run()->findings.size())) {
                session.run().showFinding(f);
                QVERIFY(w_->arrived());
                nothingIsClipped(look + QStringLiteral(", finding %1").arg(f));
            }
        auto* more = w_->find<QPushButton>(QStringLiteral("readingMore"));
        if (more->isVisible()) {
            QTest::mouseClick(more, Qt::LeftButton);
            nothingIsClipped(look + QStringLiteral(", all measures"));
            QTest::mouseClick(more, Qt::LeftButton);
        }
        auto* scope = w_->find<QPushButton>(QStringLiteral("findingScope"));
        QTest::mouseClick(scope, Qt::LeftButton);
        nothingIsClipped(look + QStringLiteral(", all findings"));
        QTest::mouseClick(scope, Qt::LeftButton);
        w_->window->review()->stage()->marking()->setTool(MarkTool::Brush);
        nothingIsClipped(look + QStringLiteral(", marking"));
        w_->window->review()->stage()->marking()->setTool(MarkTool::None);
        emit w_->window->review()->failed(
            QStringLiteral("Cannot open /a/folder/with/a/long/name/"
                           "an-even-longer-name-of-a-file.glb: it is not a glTF file, and it "
                           "ends in the middle of its first chunk."));
        nothingIsClipped(look + QStringLiteral(", an error"));
        MendDesk& mend = session.mend();
        w_->window->showPage(w_->window->mendPage());
        nothingIsClipped(look + QStringLiteral(", mend"));
        mend.beginFor(session.run().run()->faults.front().signs.front());
        QVERIFY(QTest::qWaitFor([&] { return !session.jobs().busy() && !mend.measuring(); }, 180000));
        nothingIsClipped(look + QStringLiteral(", proposals"));
        mend.apply(MendVerb::Softer, {});
        QVERIFY(QTest::qWaitFor([&] { return mend.result() && !mend.measuring(); }, 60000));
        nothingIsClipped(look + QStringLiteral(", a step"));
        w_->window->mendPage()->brush()->setDoes(BrushDoes::Add);
        nothingIsClipped(look + QStringLiteral(", strokes"));
        w_->window->mendPage()->brush()->setDoes(BrushDoes::Nothing);
        mend.takeOut(0);
        w_->window->showPage(w_->window->logPage());
        nothingIsClipped(look + QStringLiteral(", log"));
        LogPage* log = w_->window->logPage();
        if (!session.log().defects().isEmpty()) {
            log->choose(session.log().defects().front().id);
            QVERIFY(QTest::qWaitFor([&] { return log->panel()->storyTold(); }, 60000));
            nothingIsClipped(look + QStringLiteral(", a defect's story"));
        }
        log->showWorkload(true);
        nothingIsClipped(look + QStringLiteral(", workload"));
        log->showWorkload(false);
        w_->window->showPage(w_->window->review());
    }

private slots:
    void initTestCase() {
        w_ = std::make_unique<TestWindow>(QStringLiteral("looks"), true);
        QDir(settingsFile(QStringLiteral("trials"))).removeRecursively();
        nothingIsClipped(QStringLiteral("empty"));
        const QString log = w_->folder.filePath(QStringLiteral("log.sqlite"));
        QVERIFY(QFile::copy(QStringLiteral(HOBBLE_DEMO_DIR "/demo-log.sqlite"), log));
        QFile::setPermissions(log, QFile::ReadOwner | QFile::WriteOwner);
        w_->session->log().open(log);
        w_->session->build().open(QStringLiteral(HOBBLE_DEMO_DIR "/builds/3/badger-postmaster.glb"));
        QVERIFY(QTest::qWaitFor([&] { return w_->session->build().subject() != nullptr; }, 60000));
        nothingIsClipped(QStringLiteral("running"));
        QVERIFY(w_->finished());
    }
    void cleanupTestCase() { w_.reset(); }

    void nothingIsClippedInEitherTheme() {
        allStates(QStringLiteral("paper"));
        w_->command(QStringLiteral("Night theme on or off"));
        QVERIFY(Theme::current().night);
        allStates(QStringLiteral("night"));
        w_->command(QStringLiteral("Night theme on or off"));
        QVERIFY(!Theme::current().night);
    }

    void nothingIsClippedAtLargerText() {
        const double points = w_->find<QLabel>(QStringLiteral("viewTitle"))->font().pointSizeF();
        for (int i = 0; i < 5; ++i)
            QTest::keyClick(w_->window.get(), Qt::Key_Plus, Qt::ControlModifier);
        QCOMPARE(Theme::current().textScale, 1.5);
        QVERIFY(std::abs(w_->find<QLabel>(QStringLiteral("viewTitle"))->font().pointSizeF() - 1.5 * points) <
                0.1);
        allStates(QStringLiteral("150 %"));
        for (int i = 0; i < 9; ++i)
            QTest::keyClick(w_->window.get(), Qt::Key_Plus, Qt::ControlModifier);
        QCOMPARE(Theme::current().textScale, 2.0); // and no more
        allStates(QStringLiteral("200 %"));
        QTest::keyClick(w_->window.get(), Qt::Key_0, Qt::ControlModifier);
        QCOMPARE(Theme::current().textScale, 1.0);
        nothingIsClipped(QStringLiteral("back at 100 %"));
    }

    // Contrast of words against what they stand on (WCAG 2.1, 1.4.3).
    void wordsStandOut() {
        const auto luminance = [](const QColor& c) {
            const auto part = [](double x) {
                return x <= 0.03928 ? x / 12.92 : std::pow((x + 0.055) / 1.055, 2.4);
            };
            return 0.2126 * part(c.redF()) + 0.7152 * part(c.greenF()) + 0.0722 * part(c.blueF());
        };
        const auto contrast = [&](const QColor& a, const QColor& b) {
            const double x = luminance(a) + 0.05, y = luminance(b) + 0.05;
            return std::max(x, y) / std::min(x, y);
        };
        for (bool night : {false, true}) {
            Theme::apply(night);
            const Theme& t = Theme::current();
            for (const QColor& ink : {t.ink, t.muted, t.accent, t.blocking})
                for (const QColor& paper : {t.paper, t.panel})
                    QVERIFY2(contrast(ink, paper) >= 4.5,
                             qPrintable(ink.name() + QStringLiteral(" on ") + paper.name()));
        }
        Theme::apply(false);
    }

    void everyActionIsFoundByName() {
        const auto& actions = w_->window->actionBook()->actions();
        QVERIFY(actions.size() > 50);
        std::set<QString> names, ids;
        for (const QAction* a : actions) {
            QVERIFY2(names.insert(a->text()).second, qPrintable(a->text()));
            QVERIFY2(ids.insert(a->objectName()).second, qPrintable(a->objectName()));
        }
        auto* box = w_->find<QLineEdit>(QStringLiteral("command"));
        const auto* offered = box->completer()->model();
        for (const QAction* a : actions) {
            bool found = false;
            for (int r = 0; r < offered->rowCount() && !found; ++r)
                found = offered->index(r, 0).data().toString() == a->text();
            QVERIFY2(found, qPrintable(a->text()));
        }
        w_->command(QStringLiteral("Wire"));
        QVERIFY(w_->window->review()->viewport()->shown().wire);
        w_->command(QStringLiteral("Wire"));
    }

    // No two actions of one place on one key.
    void noKeyTwice() {
        ActionBook* book = w_->window->actionBook();
        for (QAction* a : book->actions())
            if (!a->shortcut().isEmpty())
                QVERIFY2(!book->holderOf(a->shortcut(), a), qPrintable(a->text()));
    }

    void aKeyIsChanged() {
        ActionBook* book = w_->window->actionBook();
        QAction* wire = nullptr;
        for (QAction* a : book->actions())
            if (a->objectName() == QLatin1String("wire"))
                wire = a;
        StripView* strips = w_->window->review()->strips();
        strips->setFocus();
        QTest::keyClick(w_->window.get(), Qt::Key_Question);
        auto* dialog = w_->find<KeysDialog>(QStringLiteral("keys"));
        QVERIFY(QTest::qWaitForWindowExposed(dialog));
        auto* find = w_->find<QLineEdit>(QStringLiteral("keysFind"));
        auto* table = w_->find<QTableWidget>(QStringLiteral("keysTable"));
        auto* told = w_->find<QLabel>(QStringLiteral("keysTold"));
        QCOMPARE(table->rowCount(), int(book->actions().size()));
        QTest::keyClicks(find, QStringLiteral("wire"));
        QCOMPARE(table->rowCount(), 1);
        table->setFocus();
        // taken already: told by whom, nothing changed
        QTest::keyClick(table, Qt::Key_Return);
        QTest::keyClick(table, Qt::Key_L);
        QVERIFY2(told->text().contains(QStringLiteral("Log the defect here")), qPrintable(told->text()));
        QCOMPARE(wire->shortcut(), QKeySequence(Qt::Key_W));
        // given up
        QTest::keyClick(table, Qt::Key_Return);
        QTest::keyClick(table, Qt::Key_Escape);
        QVERIFY(dialog->isVisible());
        QCOMPARE(wire->shortcut(), QKeySequence(Qt::Key_W));
        // free
        QTest::keyClick(table, Qt::Key_Return);
        QTest::keyClick(table, Qt::Key_E, Qt::ControlModifier);
        QCOMPARE(wire->shortcut(), QKeySequence(Qt::CTRL | Qt::Key_E));
        QCOMPARE(table->item(0, 0)->text(), QStringLiteral("Ctrl+E"));
        QTest::mouseClick(w_->find<QPushButton>(QStringLiteral("keysClose")), Qt::LeftButton);
        comeToRest();
        // it works, the old one does not, and the next window has it too
        QApplication::setActiveWindow(w_->window.get());
        strips->setFocus();
        const bool before = w_->window->review()->viewport()->shown().wire;
        QTest::keyClick(strips, Qt::Key_W);
        QCOMPARE(w_->window->review()->viewport()->shown().wire, before);
        QTest::keyClick(strips, Qt::Key_E, Qt::ControlModifier);
        QCOMPARE(w_->window->review()->viewport()->shown().wire, !before);
        {
            Session other;
            MainWindow second(&other);
            for (QAction* a : second.actionBook()->actions())
                if (a->objectName() == QLatin1String("wire"))
                    QCOMPARE(a->shortcut(), QKeySequence(Qt::CTRL | Qt::Key_E));
        }
        book->useUsualKeys();
        QCOMPARE(wire->shortcut(), QKeySequence(Qt::Key_W));
        QVERIFY(!QSettings().contains(QStringLiteral("keys/wire")));
        QTest::keyClick(strips, Qt::Key_W);
    }

    // Whatever takes the keyboard can be named by a screen reader.
    void everythingPressedHasAName() {
        for (Page* page : {static_cast<Page*>(w_->window->intake()), static_cast<Page*>(w_->window->review()),
                           static_cast<Page*>(w_->window->logPage())}) {
            w_->window->showPage(page);
            comeToRest();
            for (const QWidget* w : w_->window->findChildren<QWidget*>()) {
                if (!w->isVisible() || w->focusPolicy() == Qt::NoFocus || w->inherits("QScrollBar") ||
                    w->inherits("QHeaderView") || w->inherits("QTableCornerButton"))
                    continue;
                const auto* button = qobject_cast<const QAbstractButton*>(w);
                const bool inside = qobject_cast<const QAbstractScrollArea*>(w->parentWidget()) ||
                                    qobject_cast<const QComboBox*>(w->parentWidget());
                QVERIFY2(!w->accessibleName().isEmpty() || (button && !button->text().isEmpty()) || inside,
                         qPrintable(QLatin1String(w->metaObject()->className()) + QLatin1Char(' ') +
                                    w->objectName()));
            }
        }
        w_->window->showPage(w_->window->review());
    }

    // With the keyboard alone from the strips to a finding's button and back.
    void tabReachesEverything() {
        w_->session->run().showFinding(0);
        QVERIFY(w_->arrived());
        comeToRest();
        QApplication::setActiveWindow(w_->window.get());
        w_->window->review()->strips()->setFocus();
        std::set<QWidget*> reached;
        QStringList order;
        for (int i = 0; i < 300; ++i) {
            QVERIFY2(QApplication::focusWidget(), qPrintable(QStringLiteral("nowhere after %1").arg(i)));
            QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab);
            if (!reached.insert(QApplication::focusWidget()).second)
                break;
            order << QLatin1String(QApplication::focusWidget()->metaObject()->className()) +
                         QLatin1Char(' ') + QApplication::focusWidget()->objectName();
        }
        for (const char* name : {"command", "stripMeasure", "stripJoint", "strips", "colourBy", "mark",
                                 "readingChart", "findingScope"})
            QVERIFY2(reached.count(w_->find<QWidget>(QLatin1String(name))),
                     qPrintable(QLatin1String(name) + QLatin1String(" is not in ") +
                                order.join(QLatin1Char('\n'))));
    }

    void openingAFileThatIsNone() {
        w_->session->build().open(QStringLiteral("/nowhere/missing.glb"));
        auto* message = w_->find<QLabel>(QStringLiteral("message"));
        QVERIFY(QTest::qWaitFor(
            [&] { return message->isVisible() && message->text().contains("missing.glb"); }, 60000));
        nothingIsClipped(QStringLiteral("a file that is not there"));
        QVERIFY(w_->session->build().subject()); // what was open still is
    }
};

HOBBLE_TEST(TestLooksAndKeys)
#include "test_looks_and_keys.moc"
