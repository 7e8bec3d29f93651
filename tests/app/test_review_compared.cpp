// Review with a past: the earlier build laid over this one, only what changed, a finding merged with an open
// defect, the large chart, and the first minutes with a character. In the real window.
#include "support/window_test.h"

#include "app/review/chart_dialog.h"

#include <QAbstractItemModelTester>
#include <QChartView>
#include <QComboBox>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QLineEdit>

using namespace hobble;
using namespace hobble::test;

class TestReviewCompared : public QObject {
    Q_OBJECT

    std::unique_ptr<TestWindow> w_;
    Session* session_ = nullptr;
    StripModel* model_ = nullptr;

    int rows() const {
        int n = 0;
        for (int g = 0; g < model_->rowCount(); ++g)
            n += model_->rowCount(model_->index(g, 0));
        return n;
    }
    template <class Does> void everyRow(Does&& does) const {
        for (int g = 0; g < model_->rowCount(); ++g)
            for (int r = 0; r < model_->rowCount(model_->index(g, 0)); ++r)
                does(model_->row(model_->index(r, 0, model_->index(g, 0))));
    }

private slots:
    // Results come into the strips while the run goes on; the plan and its cost are told.
    void initTestCase() {
        w_ = std::make_unique<TestWindow>(QStringLiteral("compared"));
        session_ = w_->session.get();
        model_ = w_->window->review()->findChild<StripModel*>();
        const QAbstractItemModelTester tester(model_, QAbstractItemModelTester::FailureReportingMode::QtTest);
        session_->log().open(w_->folder.filePath(QStringLiteral("log.sqlite")));
        std::vector<int> told;
        int filled = 0;
        QString running;
        const auto there = connect(&session_->run(), &RunDesk::motionMeasured, this, [&](int m) {
            told.push_back(m);
            if (session_->run().run())
                return;
            const StripRow& row = model_->row(model_->indexOf(m));
            for (const StripCurve* c : {&row.left, &row.right, &row.single})
                filled += c->motion == m && !c->trouble.empty();
            running = w_->find<QLabel>(QStringLiteral("planCost"))->text();
        });
        QVERIFY(w_->openAndRun(QStringLiteral(HOBBLE_DEMO_DIR "/builds/2/badger-postmaster.glb")));
        disconnect(there);
        QCOMPARE(told.size(), session_->run().cost().motions);
        QVERIFY2(filled > int(told.size()) / 2, qPrintable(QString::number(filled)));
        QVERIFY2(running.contains(QStringLiteral("%1 motions").arg(told.size())) &&
                     running.contains(QStringLiteral("running")),
                 qPrintable(running));
        QVERIFY(!w_->find<QLabel>(QStringLiteral("planCost"))->isVisible());
        const QString totals = w_->find<QLabel>(QStringLiteral("totals"))->text();
        QVERIFY2(totals.contains(QStringLiteral("%1 poses in ").arg(session_->run().run()->plan.stepCount())),
                 qPrintable(totals));
        QVERIFY(!session_->run().earlier()); // the first in this log
        QVERIFY(!w_->find<QPushButton>(QStringLiteral("onlyChanged"))->isEnabled());

        QVERIFY(w_->openAndRun(QStringLiteral(HOBBLE_DEMO_DIR "/builds/3/badger-postmaster.glb")));
        QVERIFY(session_->run().earlier());
        QCOMPARE(session_->run().earlier()->build, 1); // by the order this log saw them in
    }
    void cleanupTestCase() { w_.reset(); }

    // Against the earlier build measured anew, in the same session.
    void theEarlierCurveIsTheEarlierRuns() {
        const auto subject = std::make_shared<Session>();
        subject->build().open(QStringLiteral(HOBBLE_DEMO_DIR "/builds/2/badger-postmaster.glb"));
        QVERIFY(QTest::qWaitFor([&] { return subject->run().run() && !subject->jobs().busy(); }, 60000));
        int compared = 0;
        for (std::size_t m = 0; m < session_->plan().plan().motions.size(); ++m) {
            const MotionResult* before = session_->run().earlier()->of(session_->plan().plan().motions[m]);
            for (std::size_t k = 0; k < subject->plan().plan().motions.size(); ++k) {
                if (!before || subject->plan().plan().motions[k].id != session_->plan().plan().motions[m].id)
                    continue;
                const auto& steps = subject->run().run()->motions[k].steps;
                QCOMPARE(before->steps.size(), steps.size());
                for (std::size_t i = 0; i < steps.size(); ++i)
                    QVERIFY(std::abs(before->steps[i].joints[0].measures.stretch -
                                     steps[i].joints[0].measures.stretch) < 1e-3);
                ++compared;
            }
        }
        QVERIFY(compared > 50);
    }

    void onlyWhatChanged() {
        const int all = rows();
        auto* changed = w_->find<QPushButton>(QStringLiteral("onlyChanged"));
        QCOMPARE(changed->text(), QStringLiteral("changed since build 1"));
        QTest::mouseClick(changed, Qt::LeftButton);
        const int some = rows();
        QVERIFY2(some > 0 && some < all, qPrintable(QStringLiteral("%1 of %2").arg(some).arg(all)));
        everyRow([](const StripRow& r) {
            QVERIFY(r.left.change != 0 || r.right.change != 0 || r.single.change != 0);
        });
        // the words say which way
        const QString said =
            model_->index(0, 0, model_->index(0, 0)).data(StripModel::SentenceRole).toString();
        QVERIFY2(said.contains(QStringLiteral("than build 1")), qPrintable(said));
        QTest::mouseClick(changed, Qt::LeftButton);
        QCOMPARE(rows(), all);
    }

    // Unchanged motions stay out, changed ones come: shown on the curves themselves.
    void aChangeIsMeasuredAlongTheAngle() {
        int better = 0, worse = 0;
        everyRow([&](const StripRow& r) {
            for (const StripCurve* c : {&r.left, &r.right, &r.single}) {
                double most = 0;
                for (std::size_t i = 0; i < c->at.size() && i < c->earlier.at.size(); ++i)
                    if (c->at[i] == c->earlier.at[i] &&
                        std::max(c->trouble[i], c->earlier.trouble[i]) >= kNearLimit)
                        most = std::max(most, std::abs(c->trouble[i] - c->earlier.trouble[i]));
                if (c->at == c->earlier.at)
                    QCOMPARE(std::abs(c->change), most >= kLeastChange ? most : 0.0);
                better += c->change < 0;
                worse += c->change > 0;
            }
        });
        QVERIFY(better > 0 && worse > 0); // the story of build 3: one fault cured, one new
    }

    void stripsOfOneJoint() {
        auto* joint = w_->find<QComboBox>(QStringLiteral("stripJoint"));
        const int all = rows();
        joint->setFocus();
        for (int i = 0; i < joint->count() && joint->currentText() != QLatin1String("left elbow"); ++i)
            QTest::keyClick(joint, Qt::Key_Down);
        QCOMPARE(joint->currentText(), QStringLiteral("left elbow"));
        const int wanted = joint->currentData().toInt();
        QVERIFY(rows() > 0 && rows() < 6);
        everyRow([&](const StripRow& r) {
            bool turns = false;
            for (const StripCurve* c : {&r.left, &r.right, &r.single})
                if (c->motion >= 0)
                    for (const JointTurn& t : session_->plan().plan().motions[std::size_t(c->motion)].turns)
                        turns |= t.joint == wanted;
            QVERIFY(turns);
        });
        joint->setCurrentIndex(0);
        QCOMPARE(rows(), all);
    }

    // A build of the log is taken for good on Intake; what it shows stands behind the strips, and goes with
    // undo.
    void whatTheReferenceShows() {
        auto* behind = w_->find<QPushButton>(QStringLiteral("goodBehind"));
        QVERIFY(!behind->isVisible());
        // by its words: the cards are made anew with every change
        const auto press = [&](const char* words) {
            w_->window->showPage(w_->window->intake());
            auto* builds = w_->find<QPushButton>(QStringLiteral("intakeBuilds"));
            if (!builds->isChecked())
                QTest::mouseClick(builds, Qt::LeftButton);
            const auto button = [&] {
                return w_->find<QWidget>(QStringLiteral("build1"))
                    ->findChild<QPushButton*>(QStringLiteral("referenceBuild"));
            };
            QTRY_COMPARE(button()->text(), QLatin1String(words));
            QTest::mouseClick(button(), Qt::LeftButton);
            w_->window->showPage(w_->window->review());
        };
        press("As reference");
        QTRY_VERIFY(session_->run().good());
        QTRY_VERIFY(behind->isVisible());
        QVERIFY2(behind->toolTip().contains(QStringLiteral("build 1")), qPrintable(behind->toolTip()));
        QTest::mouseClick(behind, Qt::LeftButton);
        int bands = 0;
        everyRow([&](const StripRow& r) {
            for (const StripCurve* c : {&r.left, &r.right, &r.single}) {
                bands += !c->good.trouble.empty();
                if (!c->earlier.at.empty()) // the same build, read the other way
                    QCOMPARE(c->good.trouble, c->earlier.trouble);
            }
        });
        QVERIFY2(bands > 50, qPrintable(QString::number(bands)));
        QStringList said;
        for (int g = 0; g < model_->rowCount(); ++g)
            for (int r = 0; r < model_->rowCount(model_->index(g, 0)); ++r)
                said << model_->index(r, 0, model_->index(g, 0)).data(StripModel::SentenceRole).toString();
        QVERIFY(!said.filter(QStringLiteral("beyond what the reference")).isEmpty());
        QVERIFY(!said.filter(QStringLiteral("within what the reference")).isEmpty());
        // another character is measured against it, by what its motions do
        QVERIFY(w_->openAndRun(QStringLiteral(HOBBLE_DEMO_DIR "/pack-goat.glb")));
        bands = 0;
        everyRow([&](const StripRow& r) {
            for (const StripCurve* c : {&r.left, &r.right, &r.single})
                bands += !c->good.trouble.empty();
        });
        QVERIFY2(bands > 10, qPrintable(QString::number(bands)));
        QVERIFY(w_->openAndRun(QStringLiteral(HOBBLE_DEMO_DIR "/builds/3/badger-postmaster.glb")));
        press("The reference"); // none any more
        QTRY_VERIFY(!session_->run().good());
        QTRY_VERIFY(!behind->isVisible());
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        QTRY_VERIFY(session_->run().good());
        press("The reference");
        QTRY_VERIFY(!session_->run().good());
    }

    void theLargeChart() {
        const int elbow = w_->motion("left-elbow-flex");
        session_->run().selectFinding(-1);
        session_->run().setPose(elbow, 60);
        QVERIFY(w_->arrived());
        QTest::mouseClick(w_->find<QPushButton>(QStringLiteral("readingChart")), Qt::LeftButton);
        auto* chart = w_->find<ChartDialog>(QStringLiteral("chartDialog"));
        QVERIFY(QTest::qWaitForWindowExposed(chart));
        auto* measure = w_->find<QComboBox>(QStringLiteral("chartMeasure"));
        QVERIFY(measure->count() >= 6);
        measure->setCurrentIndex(measure->findText(QStringLiteral("pinch")));
        // its data are the run's, its three curves named
        const auto& steps = session_->run().run()->motions[std::size_t(elbow)].steps;
        const QByteArray csv = chart->csv();
        QCOMPARE(csv.count("\"left\""), qsizetype(steps.size() - 1));
        QCOMPARE(csv.count("\"right\""), qsizetype(steps.size() - 1));
        QVERIFY(csv.count("\"build 1\"") >= qsizetype(steps.size() - 1));
        QVERIFY(csv.contains(QByteArray::number(*steps[steps.size() - 2].joints[0].measures.pinch, 'g', 8)));
        const QJsonObject json = QJsonDocument::fromJson(chart->json()).object();
        QCOMPARE(json.value(QStringLiteral("measure")).toString(), QStringLiteral("pinch"));
        QCOMPARE(json.value(QStringLiteral("curves")).toArray().size(), 3);
        // pressed on, it goes there
        auto* view = w_->find<QChartView>(QStringLiteral("chartView"));
        comeToRest();
        QTest::mouseClick(view->viewport(), Qt::LeftButton, {}, chart->pointOf(90, 0.7).toPoint());
        QVERIFY2(std::abs(session_->run().poseAt() - 90) <= 1,
                 qPrintable(QString::number(session_->run().poseAt())));
        // it follows to another motion
        session_->run().setPose(w_->motion("right-knee-flex"), 30);
        QVERIFY(
            w_->find<QLabel>(QStringLiteral("chartTitle"))->text().contains(QStringLiteral("right knee")));
        for (const char* name : {"chart.png", "chart.svg"}) {
            const QString path = w_->folder.filePath(QLatin1String(name));
            QVERIFY(chart->savePicture(path));
            QVERIFY(QFileInfo(path).size() > 2000);
        }
        QVERIFY(!chart->savePicture(QStringLiteral("/nowhere/at/all.png")));
        chart->close();
    }

    // A finding that is another sign of an open defect.
    void mergedWithAnOpenDefect() {
        const auto& faults = session_->run().run()->faults;
        QVERIFY(faults.size() > 1 && faults[1].joint != faults[0].joint);
        const int second = faults[1].signs.front();
        session_->run().logDefect(faults[0].signs.front(), "{}", {});
        QCOMPARE(session_->log().defects().size(), 1);
        const qint64 id = session_->log().defects().front().id;
        session_->run().showFinding(second);
        QVERIFY(w_->arrived());
        comeToRest();
        QCOMPARE(session_->run().defectOf(second), qint64(0));
        QWidget* card = w_->find<QWidget>(QStringLiteral("fault-1"));
        QMenu* menu = card->findChild<QPushButton*>(QStringLiteral("merge"))->menu();
        emit menu->aboutToShow();
        QVERIFY(menu->actions().size() == 1 &&
                menu->actions().front()->text().startsWith(QString::number(id)));
        menu->actions().front()->trigger();
        QCOMPARE(session_->run().defectOf(second), id);
        QCOMPARE(session_->log().defects().size(), 1);
        const auto history = session_->log().historyOf(id);
        QCOMPARE(history->back().field, QStringLiteral("same fault"));
        session_->undoStack().undo();
        QCOMPARE(session_->run().defectOf(second), qint64(0));
        session_->undoStack().redo();
        QCOMPARE(session_->run().defectOf(second), id);
        // and it is still known in the next build's run
        QVERIFY(w_->openAndRun(QStringLiteral(HOBBLE_DEMO_DIR "/builds/2/badger-postmaster.glb")));
        QVERIFY(w_->openAndRun(QStringLiteral(HOBBLE_DEMO_DIR "/builds/3/badger-postmaster.glb")));
        QCOMPARE(session_->run().defectOf(second), id);
    }

    // What was chosen for one character does not stay in force, unseen, for the next.
    void anotherCharacterStartsWithAllStrips() {
        auto* joint = w_->find<QComboBox>(QStringLiteral("stripJoint"));
        const int all = rows();
        joint->setCurrentIndex(5);
        QVERIFY(rows() < all);
        QVERIFY(w_->openAndRun(QStringLiteral(HOBBLE_DEMO_DIR "/builds/2/badger-postmaster.glb")));
        QCOMPARE(joint->currentIndex(), 0);
        QCOMPARE(model_->filter().joint, -1);
        QVERIFY2(rows() > all / 2, qPrintable(QString::number(rows())));
        QVERIFY(w_->openAndRun(QStringLiteral(HOBBLE_DEMO_DIR "/builds/3/badger-postmaster.glb")));
        QCOMPARE(rows(), all);
    }

    // A run that is stopped half way keeps what it has, and goes on from there.
    void stoppedHalfWay() {
        QDir(QStandardPaths::writableLocation(QStandardPaths::CacheLocation)).removeRecursively();
        session_->run().setMethod(Skinning::DualQuaternion);
        int told = 0;
        const auto there = connect(&session_->run(), &RunDesk::motionMeasured, this, [&] {
            if (++told == 10)
                QTest::mouseClick(w_->find<QPushButton>(QStringLiteral("stop")), Qt::LeftButton);
        });
        QVERIFY(QTest::qWaitFor([&] { return !session_->jobs().busy(); }, 60000));
        disconnect(there);
        QVERIFY(session_->run().run()->cancelled);
        QVERIFY(w_->find<QLabel>(QStringLiteral("planCost"))->text().contains(QStringLiteral("stopped")));
        session_->run().start();
        QVERIFY(w_->finished());
        QVERIFY(!session_->run().run()->cancelled);
        session_->run().setMethod(Skinning::Linear);
        QVERIFY(w_->finished());
    }
};

HOBBLE_TEST(TestReviewCompared)
#include "test_review_compared.moc"
