// The whole way in the real window: open a character, see the test run, find a fault on the strips, look at
// it, log it, give it to somebody, and find it again in the reopened log. Pressed, typed and dragged as a
// person does.
#include "app/main_window.h"
#include "app/theme.h"
#include "app/widgets/choice_popup.h"
#include "core/words/finding_words.h"
#include "support/suite.h"

#include <QAbstractItemModelTester>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QSettings>
#include <QTableWidget>
#include <QTemporaryDir>
#include <QTest>
#include <QTreeView>

using namespace hobble;

class TestReviewToLog : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;
    const QString demo_ = QStringLiteral(HOBBLE_DEMO_DIR "/builds/1/badger-postmaster.glb");
    std::unique_ptr<Session> session_;
    std::unique_ptr<MainWindow> window_;

    QString logPath() const { return folder_.filePath(QStringLiteral("log.sqlite")); }

    template <class T> T* find(const char* name) const {
        T* w = window_->findChild<T*>(QString::fromLatin1(name));
        if (!w)
            qFatal("no widget %s", name);
        return w;
    }
    QPushButton* button(const QString& text) const {
        for (QPushButton* b : window_->findChildren<QPushButton*>())
            if (b->isVisible() && b->text() == text)
                return b;
        return nullptr;
    }
    QWidget* stripsArea() const { return window_->review()->strips()->viewport(); }
    int motion(const char* id) const {
        const auto& m = session_->plan().plan().motions;
        for (int i = 0; i < int(m.size()); ++i)
            if (m[i].id == id)
                return i;
        qFatal("no motion %s", id);
    }
    void click(QWidget* w) {
        QVERIFY(w && w->isVisible() && w->isEnabled());
        QTest::mouseClick(w, Qt::LeftButton);
    }
    bool poseArrived() {
        return QTest::qWaitFor([this] {
            const auto f = session_->run().view().frame();
            return f && f->motion == session_->run().motion() && f->at == session_->run().poseAt();
        });
    }

    void start() {
        session_ = std::make_unique<Session>();
        window_ = std::make_unique<MainWindow>(session_.get());
        window_->show();
        QVERIFY(QTest::qWaitForWindowExposed(window_.get()));
        QApplication::setActiveWindow(window_.get()); // there is no window manager to do it
        session_->log().open(logPath());
    }
    void openDemo() {
        session_->build().open(demo_);
        QVERIFY(QTest::qWaitFor([this] { return session_->run().run() && !session_->jobs().busy(); }, 60000));
        QVERIFY(poseArrived());
    }

private slots:
    void initTestCase() {
        QSettings().clear();
        QSettings().setValue(QStringLiteral("author"), QStringLiteral("Petra Sandwort"));
        Theme::apply(false);
    }
    void init() { start(); }
    void cleanup() {
        window_.reset();
        session_.reset();
    }

    void theWholeWay() {
        // 1. Empty states say what to do.
        QVERIFY(find<QLabel>("topSentence")->text().contains(QStringLiteral("no character is open")));

        // 2. A wrong file is refused in words, and nothing is lost.
        session_->build().open(folder_.filePath(QStringLiteral("missing.glb")));
        QTRY_VERIFY(find<QLabel>("message")->text().contains(QStringLiteral("no such file")));

        // 3. Open; the test runs by itself and the sentence at the top says so.
        openDemo();
        QVERIFY(find<QLabel>("topSentence")->text().contains(QStringLiteral("Badger postmaster")));
        QVERIFY(find<QLabel>("topSentence")->text().contains(QStringLiteral("run of")));
        QVERIFY(find<QLabel>("totals")->text().contains(QStringLiteral("faults")));
        QCOMPARE(find<QLabel>("job")->text(), QStringLiteral("no work in progress"));

        // 4. Press on the right elbow's strip, then drag outwards to its limit.
        const int elbow = motion("right-elbow-flex");
        StripView* strips = window_->review()->strips();
        strips->reveal(elbow);
        QTest::mousePress(stripsArea(), Qt::LeftButton, {}, strips->pointOf(elbow, 60));
        QVERIFY(std::abs(session_->run().poseAt() - 60) < 3);
        QTest::mouseMove(stripsArea(), strips->pointOf(elbow, 100));
        QTest::mouseMove(stripsArea(),
                         strips->pointOf(elbow, 100) + QPoint(400, 0)); // beyond the end is the end
        QTest::mouseRelease(stripsArea(), Qt::LeftButton, {}, strips->pointOf(elbow, 100) + QPoint(400, 0));
        QCOMPARE(session_->run().motion(), elbow);
        QCOMPARE(session_->run().poseAt(), session_->plan().plan().motions[elbow].limit());
        QVERIFY(poseArrived());
        QVERIFY(find<QLabel>("viewTitle")->text().startsWith(QStringLiteral("right elbow flex, ")));

        // 5. The reading says what the run measured there.
        QVERIFY(find<QLabel>("readingTitle")->text().startsWith(QStringLiteral("Right elbow at ")));
        const auto& steps = session_->run().run()->motions[elbow].steps;
        const double pinch = *steps[steps.size() - 2].joints[0].measures.pinch;
        QWidget* row = find<QWidget>("reading-pinch");
        QStringList words;
        for (QLabel* l : row->findChildren<QLabel*>())
            words << l->text();
        QVERIFY2(words.contains(QString::number(pinch, 'f', 2)), qPrintable(words.join(' ')));
        QVERIFY(words.contains(QStringLiteral("0.85")));

        // 6. Log what is wrong there from its card.
        FindingsPanel* findings = window_->review()->findChild<FindingsPanel*>();
        int fault = -1;
        for (int f : findings->shownFaults())
            if (const Finding& shown = session_->run().run()->findings[f]; shown.motion == elbow && fault < 0)
                fault = shown.fault;
        QVERIFY(fault >= 0);
        const QString told = QString::fromStdString(
            sentence(*session_->build().subject(), session_->run().run()->plan,
                     session_->run().run()->findings, session_->run().run()->faults[fault]));
        QVERIFY2(told.contains(QStringLiteral("ight elbow")), qPrintable(told));
        QWidget* card = findings->findChild<QWidget*>(QStringLiteral("fault-%1").arg(fault));
        QPushButton* log = nullptr;
        for (QPushButton* b : card->findChildren<QPushButton*>())
            if (b->text() == QStringLiteral("Log defect"))
                log = b;
        QVERIFY(log);
        click(log);
        QTRY_COMPARE(session_->log().defects().size(), 1);
        QVERIFY(find<QLabel>("message")->text().startsWith(QStringLiteral("Logged as defect 1")));
        QTRY_VERIFY(button(QStringLiteral("Logged as defect 1")) != nullptr);
        QCOMPARE(find<QPushButton>("pageLog")->text(), QStringLiteral("Log  1 open"));

        // 7. On the Log page, put somebody on the roster and assign by keyboard.
        click(find<QPushButton>("pageLog"));
        QTreeView* table = find<QTreeView>("logTable");
        QVERIFY(table->isVisible());
        QCOMPARE(table->model()->rowCount(), 1);
        QTRY_VERIFY(
            find<QLabel>("defectTitle")->text().contains(told.left(told.indexOf(QStringLiteral(" in ")))));
        click(find<QPushButton>("editRoster"));
        QLineEdit* name = find<QLineEdit>("rosterName");
        QTRY_VERIFY(name->isVisible());
        QTest::keyClicks(name, QStringLiteral("Ines Marram"));
        QTest::keyClick(name, Qt::Key_Return);
        QTest::keyClicks(name, QStringLiteral("Wim Knot"));
        click(find<QPushButton>("rosterAdd"));
        QCOMPARE(find<QTableWidget>("rosterList")->rowCount(), 2);
        click(find<QPushButton>("rosterDone"));
        table->setFocus();
        QTest::keyClick(table, Qt::Key_A);
        const auto choices = [&] { return window_->findChild<ChoicePopup*>(); };
        QTRY_VERIFY(choices() && choices()->isVisible());
        QTest::keyClicks(choices()->findChild<QLineEdit*>(QStringLiteral("choiceFind")),
                         QStringLiteral("wim"));
        QTest::keyClick(choices()->findChild<QLineEdit*>(QStringLiteral("choiceFind")), Qt::Key_Return);
        QTRY_VERIFY(!choices());
        QCOMPARE(session_->log().defects()[0].assignee, QStringLiteral("Wim Knot"));
        QCOMPARE(session_->log().defects()[0].state, DefectState::Assigned);
        QComboBox* severity = find<QComboBox>("severity");
        table->setFocus();
        QTest::keyClick(table, Qt::Key_4);
        QCOMPARE(session_->log().defects()[0].severity, 4);
        QTRY_COMPARE(severity->currentText(), QStringLiteral("4  blocking"));
        QTest::keyClick(table, Qt::Key_S);
        QTRY_VERIFY(choices() && choices()->isVisible());
        QTest::keyClicks(choices()->findChild<QLineEdit*>(QStringLiteral("choiceFind")),
                         QStringLiteral("being"));
        QTest::keyClick(choices()->findChild<QLineEdit*>(QStringLiteral("choiceFind")), Qt::Key_Return);
        QTRY_VERIFY(!choices());
        QCOMPARE(session_->log().defects()[0].state, DefectState::BeingFixed);
        QLineEdit* comment = find<QLineEdit>("comment");
        QTest::keyClicks(comment, QStringLiteral("Try a helper joint at the fold."));
        QTest::keyClick(comment, Qt::Key_Return);

        // 8. Undo takes back the state only; the history keeps all of it.
        table->setFocus();
        QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(session_->log().defects()[0].state, DefectState::Assigned);
        QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(session_->log().defects()[0].state, DefectState::BeingFixed);

        // 9. Close. The log, opened again by another Hobble, has it all.
        const QByteArray camera = session_->log().whole(1)->facts.camera;
        cleanup();
        start();
        QCOMPARE(session_->log().defects().size(), 1);
        const Defect d = *session_->log().whole(1);
        QCOMPARE(d.assignee, QStringLiteral("Wim Knot"));
        QCOMPARE(d.severity, 4);
        QCOMPARE(d.state, DefectState::BeingFixed);
        QCOMPARE(d.facts.what, told);
        QVERIFY(d.facts.degrees > 100);
        QVERIFY(!d.facts.marks.isEmpty() && d.facts.marks != "{}");
        QImage picture;
        QVERIFY(picture.loadFromData(d.facts.picture, "PNG"));
        QVERIFY(picture.width() > 200);
        QStringList story;
        const auto history = session_->log().historyOf(1);
        for (const DefectEvent& e : *history)
            story << e.field + '=' + e.value;
        QVERIFY(story.contains(QStringLiteral("comment=Try a helper joint at the fold.")));
        QVERIFY(story.contains(QStringLiteral("assignee=Wim Knot")));
        QCOMPARE(history->front().author, QStringLiteral("Petra Sandwort"));

        // 10. From the defect back to its pose, angle and camera.
        openDemo();
        session_->run().setPose(0, 0);
        click(find<QPushButton>("pageLog"));
        window_->logPage()->choose(1);
        click(find<QPushButton>("showInReview"));
        QCOMPARE(session_->run().motion(), motion("right-elbow-flex"));
        QCOMPARE(session_->run().poseAt(), d.facts.degrees);
        if (Viewport* v = window_->review()->viewport()) {
            const Camera wanted = Camera::fromJson(camera, {});
            QTRY_VERIFY((v->camera().target - wanted.target).norm() < 1e-6 &&
                        std::abs(v->camera().yaw - wanted.yaw) < 1e-6);
        }
    }

    void keysOnReview() {
        openDemo();
        StripView* strips = window_->review()->strips();
        const int knee = motion("left-knee-flex");
        strips->setFocus();
        session_->run().setPose(knee, 0);
        QTest::keyClick(strips, Qt::Key_Right);
        QCOMPARE(session_->run().poseAt(), 10.0);
        QTest::keyClick(strips, Qt::Key_Right);
        QTest::keyClick(strips, Qt::Key_Left);
        QCOMPARE(session_->run().poseAt(), 10.0);
        QTest::keyClick(strips, Qt::Key_Right, Qt::ShiftModifier);
        const double onset = session_->run().poseAt();
        QVERIFY(onset > 10);
        QTest::keyClick(strips, Qt::Key_Right, Qt::ShiftModifier);
        QVERIFY(session_->run().poseAt() > onset);
        QTest::keyClick(strips, Qt::Key_Home);
        QCOMPARE(session_->run().poseAt(), 0.0);
        QTest::keyClick(strips, Qt::Key_Down);
        QVERIFY(session_->run().motion() != knee);
        QTest::keyClick(strips, Qt::Key_Up);
        QCOMPARE(session_->run().motion(), knee);
        const int before = session_->run().finding(), fault = session_->run().findingAt(before)->fault;
        QTest::keyClick(strips, Qt::Key_Period);
        QCOMPARE(session_->run().findingAt(session_->run().finding())->fault, fault + 1);
        QVERIFY(session_->run().findingAt(session_->run().finding())->leads);
        QTest::keyClick(strips, Qt::Key_Comma);
        QCOMPARE(session_->run().finding(), before);
        QTest::keyClick(strips, Qt::Key_Space);
        QTRY_VERIFY(session_->run().poseAt() != session_->run().run()->findings[before].peak);
        QTest::keyClick(strips, Qt::Key_Space);
        QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
        QLineEdit* command = find<QLineEdit>("command");
        QTRY_VERIFY(command->hasFocus());
        QTest::keyClicks(command, QStringLiteral("left jaw"));
        command->clear();
        QTest::keyClicks(command, QStringLiteral("jaw open"));
        QTest::keyClick(command, Qt::Key_Return);
        QTRY_COMPARE(session_->run().motion(), motion("jaw-open"));
    }

    void turningTheView() {
        openDemo();
        Viewport* v = window_->review()->viewport();
        if (!v)
            QSKIP("no OpenGL here");
        v->frameAll(false);
        const Camera before = v->camera();
        const QPoint middle = v->rect().center();
        QTest::mousePress(v, Qt::LeftButton, {}, middle);
        QTest::mouseMove(v, middle + QPoint(60, 10));
        QTest::mouseRelease(v, Qt::LeftButton, {}, middle + QPoint(60, 10));
        QVERIFY(v->camera().yaw != before.yaw);
        QCOMPARE(v->camera().distance, before.distance);
        click(button(QStringLiteral("front")));
        QTRY_VERIFY(std::abs(std::remainder(v->camera().yaw, 2 * kPi)) < 1e-6);
        // the middle of the picture is the character, not the ground
        const QImage image = v->grab().toImage();
        const QColor ground = Theme::current().viewport;
        QVERIFY(QColor(image.pixel(image.width() / 2, image.height() / 2)) != ground);
        QCOMPARE(QColor(image.pixel(3, 3)), ground);
    }

    void methodAndOrder() {
        openDemo();
        const std::size_t linear = session_->run().run()->findings.size();
        QComboBox* method = find<QComboBox>("method");
        method->setFocus();
        QTest::keyClick(method, Qt::Key_Down);
        QTRY_VERIFY_WITH_TIMEOUT(
            session_->run().run()->method == Skinning::DualQuaternion && !session_->jobs().busy(), 60000);
        QVERIFY(session_->run().run()->findings.size() != linear);
        StripModel model(&session_->plan(), &session_->run(), &session_->exposure());
        const QAbstractItemModelTester tester(&model, QAbstractItemModelTester::FailureReportingMode::QtTest);
        model.setOrder(StripOrder::WorstFirst);
        for (int g = 0; g + 1 < model.rowCount(); ++g)
            QVERIFY(model.index(g, 0).data(StripModel::WorstRole).toDouble() >=
                    model.index(g + 1, 0).data(StripModel::WorstRole).toDouble());
        session_->run().start();
        QTRY_VERIFY_WITH_TIMEOUT(!session_->jobs().busy(), 60000);
    }

    void logModelIsSound() {
        openDemo();
        LogModel model(&session_->log());
        const QAbstractItemModelTester tester(&model, QAbstractItemModelTester::FailureReportingMode::QtTest);
        const int before = model.rowCount();
        session_->run().logDefect(5, "{}", {});
        session_->run().logDefect(6, "{}", {});
        QCOMPARE(model.rowCount(), before + 2);
        session_->run().logDefect(6, "{}", {}); // once is enough
        QCOMPARE(model.rowCount(), before + 2);
        session_->undoStack().undo();
        QCOMPARE(session_->log().defects().back().state, DefectState::Withdrawn);
    }

    void stoppedRun() {
        session_->build().open(demo_);
        QVERIFY(QTest::qWaitFor([this] { return session_->build().subject() && session_->jobs().busy(); },
                                60000));
        QTRY_VERIFY(find<QPushButton>("stop")->isVisible());
        click(find<QPushButton>("stop"));
        QTRY_VERIFY(!session_->jobs().busy());
        QVERIFY(session_->run().run() && session_->run().run()->cancelled);
        QVERIFY(find<QLabel>("message")->text().contains(QStringLiteral("stopped")));
        QTest::keyClick(window_.get(), Qt::Key_F5);
        QVERIFY(QTest::qWaitFor(
            [this] { return !session_->jobs().busy() && !session_->run().run()->cancelled; }, 60000));
    }

    void withoutOpenGl() {
        cleanup();
        qputenv("HOBBLE_NO_OPENGL", "1");
        start();
        qunsetenv("HOBBLE_NO_OPENGL");
        QVERIFY(window_->review()->viewport() == nullptr);
        QVERIFY(window_->intake()->viewport() == nullptr);
        openDemo();
        QVERIFY(window_->review()->findChild<QLabel*>(QStringLiteral("noOpenGl"))->isVisible());
        const qsizetype before = session_->log().defects().size();
        window_->review()->logFinding(session_->run().run()->faults.back().signs.front()); // not logged yet
        QTRY_COMPARE(session_->log().defects().size(), before + 1);
    }
};

HOBBLE_TEST(TestReviewToLog)
#include "test_review_to_log.moc"
