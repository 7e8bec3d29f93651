// The show's own clips in the real window: where they are is said on Plan, Review says of every fault whether
// they go there, a press shows the frame, and the log is told.
#include "support/window_test.h"

#include "app/plan/plan_page.h"
#include "app/review/findings_panel.h"
#include "core/words/exposure_words.h"
#include "io/clip_read.h"

#include <QCheckBox>
#include <QComboBox>

#include <filesystem>

using namespace hobble;
using namespace hobble::test;

class TestShowClips : public QObject {
    Q_OBJECT

    std::unique_ptr<TestWindow> w_;
    Session* session_ = nullptr;
    QTemporaryDir show_;

    ExposureDesk& desk() const { return session_->exposure(); }
    bool counted() const {
        return QTest::qWaitFor([this] { return desk().exposure() && !desk().counting(); }, 60000);
    }
    QString said(const char* name) const { return w_->find<QLabel>(QLatin1String(name))->text(); }
    StripModel* strips() const { return w_->window->review()->findChild<StripModel*>(); }
    int rows() const {
        int n = 0;
        for (int g = 0; g < strips()->rowCount(); ++g)
            n += strips()->rowCount(strips()->index(g, 0));
        return n;
    }
    // The first fault that the clips reach, or never do.
    int faultThat(bool reached) const {
        for (const Fault& f : session_->run().run()->faults) {
            const auto use = desk().ofFault(f.signs.front());
            if (use && use->past.known() && (use->past.frames > 0) == reached)
                return f.signs.front();
        }
        return -1;
    }

private slots:
    void initTestCase() {
        for (const char* name : {"long-limbed.bvh", "badger-postmaster.bvh"})
            QVERIFY(QFile::copy(QStringLiteral(HOBBLE_DEMO_DIR "/") + QLatin1String(name),
                                show_.filePath(QLatin1String(name))));
        QFile broken(show_.filePath(QStringLiteral("broken.bvh")));
        QVERIFY(broken.open(QIODevice::WriteOnly) && broken.write("HIERARCHY\nnothing") > 0);
        w_ = std::make_unique<TestWindow>(QStringLiteral("showclips"), true);
        session_ = w_->session.get();
        session_->log().open(w_->folder.filePath(QStringLiteral("log.sqlite")));
        QVERIFY(w_->openAndRun(QStringLiteral(HOBBLE_DEMO_DIR "/builds/1/badger-postmaster.glb")));
        w_->command(QStringLiteral("Where the show's clips go"));
    }
    void cleanupTestCase() { w_.reset(); }

    void nothingWhileNothingIsCounted() {
        QVERIFY(!desk().exposure());
        QVERIFY(said("showTotal").startsWith(QStringLiteral("Where the show's animation is")));
        QVERIFY(!w_->find<QPushButton>(QStringLiteral("countAgain"))->isVisible());
        QVERIFY(!w_->find<QPushButton>(QStringLiteral("mostUsed"))->isVisibleTo(w_->window->review()));
        QVERIFY(w_->window->review()
                    ->findChildren<QLabel*>(QRegularExpression(QStringLiteral("^use-")))
                    .isEmpty());
    }

    void aFolderIsCounted() {
        desk().setPlaces({show_.path()});
        QVERIFY(counted());
        QCOMPARE(said("showTotal"),
                 QStringLiteral("2 clips, %1 frames")
                     .arg(QString::fromStdString(grouped(desk().exposure()->frameCount()))));
        auto* unread = w_->find<QPushButton>(QStringLiteral("clipsUnread"));
        QCOMPARE(unread->text(), QStringLiteral("one was not read"));
        QVERIFY(!w_->find<QLabel>(QStringLiteral("showNotes"))->isVisible());
        QTest::mouseClick(unread, Qt::LeftButton);
        QVERIFY(w_->find<QLabel>(QStringLiteral("showNotes"))->isVisible());
        QVERIFY(said("showNotes").contains(QStringLiteral("broken.bvh")));
        session_->undoStack().undo();
        comeToRest();
        QVERIFY(desk().places().isEmpty() && !desk().exposure());
        session_->undoStack().redo();
        QVERIFY(counted());
        QCOMPARE(desk().exposure()->clips.size(), std::size_t(2));
    }

    // The demo's clip drives a knee past its range on purpose.
    void whatGoesPastThePlan() {
        const auto wider = desk().pastPlan();
        QVERIFY(!wider.empty());
        QVERIFY(said("pastPlanTitle").endsWith(QStringLiteral("go past the plan")));
        const int knee = w_->motion("left-knee-flex");
        const auto at =
            std::find_if(wider.begin(), wider.end(), [&](const auto& x) { return x.motion == knee; });
        QVERIFY(at != wider.end());
        const double before = session_->plan().plan().motions[std::size_t(knee)].limit();
        QVERIFY(at->furthest > before);
        auto* widen = w_->find<QPushButton>(QStringLiteral("widen-left-knee-flex"));
        QTest::mouseClick(widen, Qt::LeftButton);
        comeToRest();
        QVERIFY(session_->plan().plan().motions[std::size_t(knee)].limit() >= at->furthest);
        QVERIFY(!w_->window->findChild<QPushButton*>(QStringLiteral("widen-left-knee-flex")));
        session_->undoStack().undo();
        comeToRest();
        QCOMPARE(session_->plan().plan().motions[std::size_t(knee)].limit(), before);
        QVERIFY(w_->finished() && counted());
    }

    void whereFaultsMeet() {
        auto* find = w_->find<QPushButton>(QStringLiteral("findMeetings"));
        QVERIFY(find->isVisibleTo(w_->window->planPage()));
        QTest::mouseClick(find, Qt::LeftButton);
        QTRY_VERIFY(desk().meetings());
        QVERIFY(!desk().meetings()->empty() && !find->isVisible());
        const Meeting& worst = desk().meetings()->front();
        auto* row = w_->find<QLabel>(QStringLiteral("meeting-0"));
        QVERIFY2(row->text().startsWith(QStringLiteral("%1 faults meet: ").arg(worst.faults.size())),
                 qPrintable(row->text()));
        QTest::mouseClick(row, Qt::LeftButton);
        const QString title =
            QStringLiteral("%1, frame %2").arg(QString::fromStdString(worst.clip)).arg(worst.at);
        QVERIFY(QTest::qWaitFor([&] { return session_->run().freePoseName() == title; }, 60000));
        QVERIFY(w_->window->shownPage() == w_->window->review());
        // and each of those faults is gone past there, by one of its signs
        const MotionExtents extents(*session_->build().build(), session_->build().subject()->roles,
                                    session_->plan().plan());
        std::vector<float> extent;
        extents.of(session_->pose().pose(), extent);
        const auto run = session_->run().run();
        for (int f : worst.faults) {
            const auto& signs = run->faults[std::size_t(f)].signs;
            QVERIFY(std::any_of(signs.begin(), signs.end(), [&](int sign) {
                const Finding& s = run->findings[std::size_t(sign)];
                return s.motion >= 0 && std::lround(extent[std::size_t(s.motion)]) >= std::lround(s.onset);
            }));
        }
        w_->window->showPage(w_->window->planPage());
    }

    void loggedLighterWhereTheTeamSaysSo() {
        const int never = faultThat(false), reached = faultThat(true);
        QVERIFY(never >= 0 && reached >= 0);
        auto* lighter = w_->find<QCheckBox>(QStringLiteral("lighter"));
        QVERIFY(!lighter->isChecked()); // nobody has said so
        const auto words = [&](int finding) { return desk().wordsOf(*desk().ofFault(finding), finding); };
        QVERIFY(!words(never).contains(QStringLiteral("logged as")));
        QTest::mouseClick(lighter, Qt::LeftButton, {}, QPoint(8, lighter->height() / 2));
        QVERIFY(desk().proposesLighter());
        const int own = session_->run().findingAt(never)->severity;
        QCOMPARE(words(never).contains(QStringLiteral("logged as %1").arg(own - 1)), own > 1);
        QVERIFY(!words(reached).contains(QStringLiteral("logged as")));
        session_->run().logDefect(never, {}, {});
        QTRY_VERIFY(session_->run().defectOf(never) > 0);
        QCOMPARE(session_->log().find(session_->run().defectOf(never))->severity, std::max(1, own - 1));
        session_->undoStack().undo(); // the defect
        session_->undoStack().undo();
        QVERIFY(!desk().proposesLighter() && !lighter->isChecked());
    }

    void everyFaultSaysWhetherTheShowGoesThere() {
        w_->window->showPage(w_->window->review());
        const int reached = faultThat(true), never = faultThat(false);
        QVERIFY(reached >= 0 && never >= 0);
        QTest::mouseClick(w_->find<QPushButton>(QStringLiteral("findingScope")),
                          Qt::LeftButton); // everywhere
        comeToRest();
        const QString there = said(qPrintable(QStringLiteral("use-%1").arg(reached)));
        QVERIFY2(there.contains(QStringLiteral("In the show: past it in ")), qPrintable(there));
        const QString not_ = said(qPrintable(QStringLiteral("use-%1").arg(never)));
        QVERIFY2(not_.contains(QStringLiteral("never reached in ")), qPrintable(not_));
    }

    // The frame itself: the character stands as the clip has it, on Review, and Plan has the clip there.
    void thePressShowsTheFrame() {
        const int fault = faultThat(true);
        const auto use = desk().ofFault(fault);
        const ClipUse& clip = desk().exposure()->clips[std::size_t(use->past.firstClip)];
        auto* line = w_->find<QLabel>(QStringLiteral("use-%1").arg(fault));
        QTest::mouseClick(line, Qt::LeftButton);
        const QString title =
            QStringLiteral("%1, frame %2").arg(QString::fromStdString(clip.clip)).arg(use->past.firstFrame);
        QVERIFY(QTest::qWaitFor([&] { return session_->run().freePoseName() == title; }, 60000));
        QVERIFY(QTest::qWaitFor([&] { return !session_->jobs().busy(); }, 60000));
        QVERIFY(w_->window->shownPage() == w_->window->review());
        QCOMPARE(said("viewTitle"), title);
        QVERIFY(session_->pose().clip());
        QCOMPARE(session_->pose().clip()->frames[session_->pose().clip()->place],
                 std::size_t(use->past.firstFrame));
        QCOMPARE(session_->run().motion(), -1);
        // and it is past the onset there
        const Finding& f = *session_->run().findingAt(use->finding);
        const MotionExtents extents(*session_->build().build(), session_->build().subject()->roles,
                                    session_->plan().plan());
        std::vector<float> extent;
        extents.of(session_->pose().pose(), extent);
        QVERIFY(std::lround(extent[std::size_t(f.motion)]) >= std::lround(f.onset));
    }

    void stripsAreChosenAndOrderedByUse() {
        const int all = rows();
        auto* reached = w_->find<QComboBox>(QStringLiteral("stripReached"));
        QVERIFY(reached->isVisible());
        reached->setCurrentIndex(reached->findText(QStringLiteral("never reached")));
        const int never = rows();
        reached->setCurrentIndex(reached->findText(QStringLiteral("where the show goes")));
        const int there = rows();
        QVERIFY2(never > 0 && there > 0 && never + there < all,
                 qPrintable(QStringLiteral("%1 + %2 of %3").arg(never).arg(there).arg(all)));
        reached->setCurrentIndex(0);
        QCOMPARE(rows(), all);
        QTest::mouseClick(w_->find<QPushButton>(QStringLiteral("mostUsed")), Qt::LeftButton);
        const QModelIndex group = strips()->index(0, 0);
        std::size_t before = ~std::size_t(0);
        for (int r = 0; r < strips()->rowCount(group); ++r) {
            const std::size_t frames = strips()->row(strips()->index(r, 0, group)).framesPast();
            QVERIFY(frames <= before);
            before = frames;
        }
        const QString words = strips()->index(0, 0, group).data(StripModel::SentenceRole).toString();
        QVERIFY2(words.contains(QStringLiteral("in the show: past it in ")), qPrintable(words));
        QTest::mouseClick(w_->find<QPushButton>(QStringLiteral("bodyOrder")), Qt::LeftButton);
        const StripRow& elbow = strips()->row(strips()->indexOf(w_->motion("left-elbow-flex")));
        QCOMPARE(elbow.left.use.size(), std::size_t(40));
        double share = 0;
        for (double s : elbow.left.use)
            share += s;
        QVERIFY(share > 0.5 && share < 1 + 1e-9);
    }

    void theLogIsTold() {
        const int fault = faultThat(true);
        session_->run().logDefect(fault, "{}", {});
        QVERIFY(QTest::qWaitFor([&] { return session_->run().defectOf(fault) != 0; }, 60000));
        const qint64 id = session_->run().defectOf(fault);
        QVERIFY(!session_->log().find(id)->use);
        w_->command(QStringLiteral("Where the show's clips go"));
        QCOMPARE(desk().untold(), 1);
        QVERIFY(QTest::qWaitFor([&] { return w_->find<QPushButton>(QStringLiteral("tellLog"))->isVisible(); },
                                60000));
        QTest::mouseClick(w_->find<QPushButton>(QStringLiteral("tellLog")), Qt::LeftButton);
        comeToRest();
        const auto use = session_->log().find(id)->use;
        QVERIFY(use && use->ofFrames > 0);
        QCOMPARE(desk().untold(), 0);
        QVERIFY(!w_->find<QPushButton>(QStringLiteral("tellLog"))->isVisible());
        const auto history = session_->log().historyOf(id);
        QVERIFY(history && history->back().field == QStringLiteral("use"));
        w_->window->showPage(w_->window->logPage());
        w_->window->logPage()->choose(id);
        comeToRest();
        QVERIFY2(said("defectFacts").contains(QStringLiteral("in the show in ")) ||
                     said("defectFacts").contains(QStringLiteral("in the show never")),
                 qPrintable(said("defectFacts")));
    }

    // The next start knows where the clips are, and poses nothing again.
    void keptForTheLog() {
        const QString log = session_->log().place();
        desk().setPlaces({show_.path(), QStringLiteral("/nowhere/at/all")});
        QVERIFY(counted());
        QVERIFY(
            desk().notes().join(QLatin1Char(' ')).contains(QStringLiteral("/nowhere/at/all is not there")));
        Session other;
        other.log().open(log);
        QVERIFY(QTest::qWaitFor([&] { return other.exposure().places().size() == 2; }, 60000));
        Session empty;
        empty.log().open(w_->folder.filePath(QStringLiteral("another.sqlite")));
        QVERIFY(QTest::qWaitFor(
            [&] { return empty.log().place().endsWith(QStringLiteral("another.sqlite")); }, 60000));
        comeToRest();
        QVERIFY(empty.exposure().places().isEmpty());
    }

    // Opened while it is on screen where faults of another meet: nothing of that one is asked of this.
    void anotherCharacterComesInMeanwhile() {
        w_->window->showPage(w_->window->planPage());
        w_->window->planPage()->showPane(PlanPage::Show);
        QVERIFY(counted());
        if (!desk().meetings())
            QTest::mouseClick(w_->find<QPushButton>(QStringLiteral("findMeetings")), Qt::LeftButton);
        QTRY_VERIFY(desk().meetings() && !desk().meetings()->empty());
        const auto before = session_->build().build();
        session_->build().open(QStringLiteral(HOBBLE_DEMO_DIR "/pack-goat.glb"));
        QTRY_VERIFY(session_->build().build() && session_->build().build() != before);
        QTRY_VERIFY(!desk().meetings());
    }
};

HOBBLE_TEST(TestShowClips)
#include "test_show_clips.moc"
