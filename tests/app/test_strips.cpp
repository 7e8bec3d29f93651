// The strips' model against the run it shows, and the view's folding, hitting and order.
#include "app/review/strip_view.h"
#include "app/theme.h"
#include "support/suite.h"

#include <QAbstractItemModelTester>
#include <QApplication>
#include <QScrollBar>
#include <QTest>

using namespace hobble;

class TestStrips : public QObject {
    Q_OBJECT

    std::unique_ptr<Session> session_;
    std::unique_ptr<StripModel> model_;

    int motion(const char* id) const {
        const auto& m = session_->plan().plan().motions;
        for (int i = 0; i < int(m.size()); ++i)
            if (m[i].id == id)
                return i;
        qFatal("no motion %s", id);
    }

private slots:
    void initTestCase() {
        Theme::apply(false);
        session_ = std::make_unique<Session>();
        model_ = std::make_unique<StripModel>(&session_->plan(), &session_->run(), &session_->exposure());
        QCOMPARE(model_->rowCount(), 0);
        const QAbstractItemModelTester tester(model_.get(),
                                              QAbstractItemModelTester::FailureReportingMode::QtTest);
        session_->build().open(QStringLiteral(HOBBLE_DEMO_DIR "/builds/1/badger-postmaster.glb"));
        QVERIFY(QTest::qWaitFor([&] { return session_->run().run() && !session_->jobs().busy(); }, 60000));
    }
    void cleanupTestCase() {
        model_.reset();
        session_.reset();
    }

    void everyMotionHasOnePlace() {
        int shown = 0;
        for (int g = 0; g < model_->rowCount(); ++g)
            for (int r = 0; r < model_->rowCount(model_->index(g, 0)); ++r) {
                const StripRow& row = model_->row(model_->index(r, 0, model_->index(g, 0)));
                shown += (row.left.motion >= 0) + (row.right.motion >= 0) + (row.single.motion >= 0);
                QVERIFY(row.single.motion < 0 || (row.left.motion < 0 && row.right.motion < 0));
            }
        const auto& motions = session_->plan().plan().motions;
        QCOMPARE(shown,
                 int(std::count_if(motions.begin(), motions.end(), [](const Motion& m) { return m.on; })));
        for (int m = 0; m < int(motions.size()); ++m)
            QCOMPARE(model_->indexOf(m).isValid(), motions[std::size_t(m)].on);
        const StripRow& elbow = model_->row(model_->indexOf(motion("left-elbow-flex")));
        QCOMPARE(elbow.left.motion, motion("left-elbow-flex"));
        QCOMPARE(elbow.right.motion, motion("right-elbow-flex"));
    }

    // The curve is the run's own worst trouble; onset lies where it passes 1, the peak where it is greatest.
    void curvesAreTheRuns() {
        const int m = motion("left-knee-flex");
        const StripCurve& c = model_->row(model_->indexOf(m)).left;
        const auto& steps = session_->run().run()->motions[m].steps;
        QCOMPARE(c.trouble.size(), steps.size() - 1);
        double most = 0;
        for (std::size_t i = 0; i < c.trouble.size(); ++i) {
            QCOMPARE(c.trouble[i],
                     worstTrouble(steps[i].joints[0].measures, session_->run().run()->limits, Role::Knee));
            most = std::max(most, c.trouble[i]);
        }
        QCOMPARE(c.worst, most);
        QVERIFY(c.onset > 0 && c.onset < c.peak);
        for (std::size_t i = 0; i < c.at.size(); ++i)
            QVERIFY(c.at[i] > c.onset || c.trouble[i] <= 1 + 1e-9);
    }

    void aGroupShowsItsWorst() {
        for (int g = 0; g < model_->rowCount(); ++g) {
            const QModelIndex group = model_->index(g, 0);
            double worst = 0;
            for (int r = 0; r < model_->rowCount(group); ++r)
                worst = std::max(worst, model_->row(model_->index(r, 0, group)).worst());
            QCOMPARE(model_->row(group).worst(), worst);
        }
    }

    void worstFirstAndBack() {
        int rows = 0;
        double worst = 0;
        for (int g = 0; g < model_->rowCount(); ++g) {
            rows += model_->rowCount(model_->index(g, 0));
            worst = std::max(worst, model_->row(model_->index(g, 0)).worst());
        }
        model_->setOrder(StripOrder::WorstFirst);
        QCOMPARE(model_->rowCount(), 1); // no limb cuts it
        const QModelIndex first = model_->index(0, 0);
        QCOMPARE(model_->rowCount(first), rows);
        QCOMPARE(model_->row(model_->index(0, 0, first)).worst(), worst);
        for (int r = 0; r + 1 < model_->rowCount(first); ++r)
            QVERIFY(model_->row(model_->index(r, 0, first)).worst() >=
                    model_->row(model_->index(r + 1, 0, first)).worst());
        model_->setOrder(StripOrder::Body);
        QCOMPARE(model_->index(0, 0).data().toString(), QStringLiteral("Arms"));
    }

    // Wherever the list stood, the worst is what is seen first: also of a limb that is folded away.
    void worstFirstGoesToItsTop() {
        StripView view(model_.get(), &session_->build(), &session_->plan(), &session_->run());
        view.resize(420, 300);
        view.show();
        QVERIFY(QTest::qWaitForWindowExposed(&view));
        view.verticalScrollBar()->setValue(view.verticalScrollBar()->maximum());
        QVERIFY(view.verticalScrollBar()->value() > 0);
        model_->setOrder(StripOrder::WorstFirst);
        QCOMPARE(view.verticalScrollBar()->value(), 0);
        const StripRow& top = model_->row(model_->index(0, 0, model_->index(0, 0)));
        const int motion = top.single.motion >= 0              ? top.single.motion
                           : top.left.worst >= top.right.worst ? top.left.motion
                                                               : top.right.motion;
        QVERIFY(view.viewport()->rect().contains(view.pointOf(motion, 1)));
        QVERIFY(view.pointOf(motion, 1).y() < 40); // no line of a limb above it
        model_->setOrder(StripOrder::Body);
        QCOMPARE(view.verticalScrollBar()->value(), 0);
    }

    void sentencesForPeopleWhoListen() {
        const QString words =
            model_->indexOf(motion("left-elbow-flex")).data(StripModel::SentenceRole).toString();
        QVERIFY2(words.startsWith(QStringLiteral("elbow flex: left starts at ")), qPrintable(words));
        QVERIFY(words.contains(QStringLiteral("right starts at ")));
    }

    void foldingAndStepping() {
        StripView view(model_.get(), &session_->build(), &session_->plan(), &session_->run());
        view.resize(420, 600);
        view.show();
        QVERIFY(QTest::qWaitForWindowExposed(&view));
        const int curl = motion("left-index-base-curl");
        QVERIFY(view.isFolded(QStringLiteral("Hands")));
        QVERIFY(view.pointOf(curl, 10).isNull());
        view.reveal(curl);
        QVERIFY(!view.isFolded(QStringLiteral("Hands")));
        const QPoint at = view.pointOf(curl, 0);
        QVERIFY(view.viewport()->rect().contains(at));
        // left grows leftwards, right grows rightwards, from the same neutral
        const int right = motion("right-index-base-curl");
        QVERIFY(view.pointOf(curl, 60).x() < at.x());
        QVERIFY(view.pointOf(right, 60).x() > at.x());
        QVERIFY(std::abs(view.pointOf(right, 0).x() - at.x()) <= 1);
        // one press folds the group again
        view.setFolded(QStringLiteral("Hands"), true);
        QVERIFY(view.pointOf(curl, 10).isNull());
        // stepping keeps to the side one is on
        const int next = view.motionBeside(motion("right-elbow-flex"), 1);
        QCOMPARE(session_->plan().plan().motions[next].side, Side::Right);
        QCOMPARE(view.motionBeside(motion("left-collarbone-up"), -1), -1);
        // a press takes the pose under the pointer
        const int knee = motion("right-knee-flex");
        view.reveal(knee);
        QTest::mouseClick(view.viewport(), Qt::LeftButton, {}, view.pointOf(knee, 70));
        QCOMPARE(session_->run().motion(), knee);
        QVERIFY(std::abs(session_->run().poseAt() - 70) < 2);
    }
};

HOBBLE_TEST(TestStrips)
#include "test_strips.moc"
