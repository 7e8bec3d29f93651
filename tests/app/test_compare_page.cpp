// Compare, by hand and key: build 3 of the story against build 2, both characters side by side and under the
// seam, the strips, the table; the log's defects on the new build and what one says of them; signing off. In
// the real window.
#include "support/window_test.h"

#include "app/checked/checked_line.h"

#include <QComboBox>
#include <QListView>
#include <QMenu>
#include <QSignalSpy>

using namespace hobble;
using namespace hobble::test;

class TestComparePage : public QObject {
    Q_OBJECT

    std::unique_ptr<TestWindow> w_;
    Session* session_ = nullptr;
    ComparePage* page_ = nullptr;
    CompareDesk* desk_ = nullptr;

    static QString file(const char* name) {
        return QStringLiteral(HOBBLE_DEMO_DIR "/") + QLatin1String(name);
    }
    bool compared() const {
        return QTest::qWaitFor([this] { return desk_->comparison() && !session_->jobs().busy(); }, 180000);
    }
    bool shown() const {
        return QTest::qWaitFor([this] { return desk_->now().arrived() && desk_->before().arrived(); }, 60000);
    }
    QString words(const char* label) const { return w_->find<QLabel>(QLatin1String(label))->text(); }
    void press(const char* button) {
        QTest::mouseClick(w_->find<QPushButton>(QLatin1String(button)), Qt::LeftButton);
    }
    // Where both stand, as seen on the page.
    static QImage seen(Viewport* v) {
        v->settle();
        return QImage::fromData(v->picture());
    }

private slots:
    void initTestCase() {
        w_ = std::make_unique<TestWindow>(QStringLiteral("compare"), true);
        session_ = w_->session.get();
        page_ = w_->window->comparePage();
        desk_ = &session_->compare();
        // the story's log, where a person may write
        const QString log = w_->folder.filePath(QStringLiteral("log.sqlite"));
        QVERIFY(QFile::copy(file("demo-log.sqlite"), log));
        QVERIFY(QFile::setPermissions(log, QFile::ReadOwner | QFile::WriteOwner));
        QDir::setCurrent(QStringLiteral(HOBBLE_DEMO_DIR "/../..")); // its builds are told from there
        session_->log().open(log);
    }
    void cleanupTestCase() { w_.reset(); }

    void nothingIsOpen() {
        QTest::mouseClick(w_->find<QPushButton>(QStringLiteral("pageCompare")), Qt::LeftButton);
        QCOMPARE(w_->window->shownPage(), static_cast<Page*>(page_));
        QVERIFY(words("compareSentence").contains(QStringLiteral("No character is open")));
        for (int key :
             {Qt::Key_Right, Qt::Key_Down, Qt::Key_Space, Qt::Key_C, Qt::Key_K, Qt::Key_R, Qt::Key_Period})
            QTest::keyClick(page_->strips(), static_cast<Qt::Key>(key)); // nothing happens, nothing breaks
    }

    // The page lays a build against the one before it by itself, and says how they differ.
    void againstTheBuildBefore() {
        QVERIFY(w_->openAndRun(file("builds/3/badger-postmaster.glb")));
        w_->window->showPage(page_);
        QVERIFY(compared());
        QCOMPARE(words("compareNow"), QStringLiteral("Build 3 against"));
        QCOMPARE(w_->find<QPushButton>(QStringLiteral("against"))->text(), QStringLiteral("build 2"));
        const QString said = words("compareSentence");
        QVERIFY2(said.contains(QStringLiteral("etter at")) && said.contains(QStringLiteral("orse at")),
                 qPrintable(said));
        QVERIFY2(
            w_->find<QPushButton>(QStringLiteral("pageCompare"))->text().contains(QStringLiteral("better")),
            qPrintable(w_->find<QPushButton>(QStringLiteral("pageCompare"))->text()));
        // its mesh was put in another order: that is no difference
        QVERIFY2(words("skinDiffers").contains(QStringLiteral("the mesh is the same")),
                 qPrintable(words("skinDiffers")));
        // the story: the coat was broken at the right elbow, the left elbow was mended
        const auto& c = *desk_->comparison();
        std::map<std::string, const JointChange*> verdicts;
        for (const JointChange& j : c.differences.joints)
            verdicts[c.sides[1].subject->character->skeleton.name[static_cast<std::size_t>(j.joint[1])]] = &j;
        // the coat stretches there now, and pokes through less than it did
        QVERIFY(verdicts.at("forearm.R")->verdict == Change::Worse || verdicts.at("forearm.R")->mixed);
        QVERIFY(verdicts.at("forearm.L")->verdict == Change::Better);
    }

    void stripsAreTheScrubber() {
        QVERIFY(page_->strips()->rows() > 0);
        const int motion = page_->strips()->motionAt(0);
        QTest::mouseClick(page_->strips()->viewport(), Qt::LeftButton, {},
                          page_->strips()->pointOf(motion, 20));
        QCOMPARE(desk_->motion(), motion);
        QVERIFY(std::abs(desk_->poseAt() - 20) < 3);
        QVERIFY(shown());
        QCOMPARE(desk_->now().frame()->at, desk_->poseAt());
        QCOMPARE(desk_->before().frame()->at, desk_->poseAt());
        page_->strips()->setFocus();
        QTest::keyClick(page_->strips(), Qt::Key_End);
        QCOMPARE(desk_->poseAt(), desk_->motionShown()->limit());
        const double end = desk_->poseAt();
        QTest::keyClick(page_->strips(), Qt::Key_Left);
        QVERIFY(desk_->poseAt() < end);
        QTest::keyClick(page_->strips(), Qt::Key_Down);
        if (page_->strips()->rows() > 1)
            QCOMPARE(desk_->motion(), page_->strips()->motionAt(1));
        // what one reads of a strip names both sides
        const QString said = page_->strips()->sentenceAt(0);
        QVERIFY2(said.contains(QStringLiteral("build 2")) && said.contains(QStringLiteral("build 3")),
                 qPrintable(said));
    }

    void ordersShowWhatTheySay() {
        press("compareBetter");
        const int better = page_->strips()->rows();
        QVERIFY(better > 0);
        QVERIFY(
            w_->find<QPushButton>(QStringLiteral("compareBetter"))->text().endsWith(QString::number(better)));
        press("compareBody");
        QVERIFY(page_->strips()->rows() > better);
        press("compareWorse");
        QVERIFY(page_->strips()->rows() > 0);
        QVERIFY(w_->find<QPushButton>(QStringLiteral("compareWorse"))
                    ->text()
                    .endsWith(QString::number(page_->strips()->rows())));
    }

    // One camera: what one view does the other does, and a press on one marks the same place on the other.
    void bothViewsAreOne() {
        SideBySide* sides = page_->sides();
        QVERIFY(sides);
        QVERIFY(shown());
        sides->now()->settle();
        QVERIFY(QTest::qWaitFor(
            [&] { return sides->before()->camera().target == sides->now()->camera().target; }, 60000));
        const QPoint from(20, sides->now()->height() / 2);
        QTest::mousePress(sides->now(), Qt::LeftButton, {}, from);
        QTest::mouseMove(sides->now(), from + QPoint(60, 10));
        QTest::mouseRelease(sides->now(), Qt::LeftButton, {}, from + QPoint(60, 10));
        QVERIFY(QTest::qWaitFor([&] { return sides->before()->camera().yaw == sides->now()->camera().yaw; },
                                60000));
        QPoint skin;
        for (int y = 20; y < sides->now()->height() - 20 && skin.isNull(); y += 6)
            for (int x = 20; x < sides->now()->width() - 20 && skin.isNull(); x += 6)
                if (sides->now()->pick(QPointF(x, y)))
                    skin = {x, y};
        QVERIFY(!skin.isNull());
        QTest::mouseClick(sides->now(), Qt::LeftButton, {}, skin);
        QVERIFY(QTest::qWaitFor([&] { return sides->spot(0)->marked() && sides->spot(1)->marked(); }, 60000));
        const auto place = [&](std::size_t s) {
            const SkinPlace& p = *sides->spot(s)->marked();
            const Subject& subject = *desk_->comparison()->sides[s].subject;
            Vec3 at = Vec3::Zero();
            for (std::size_t k = 0; k < 3; ++k)
                at += p.share[k] * subject.neutral[subject.surface.triangles[p.triangle][k]];
            return at;
        };
        QVERIFY((place(0) - place(1)).norm() < 1e-4f); // in neutral, where both builds are one
    }

    void theSeam() {
        SideBySide* sides = page_->sides();
        const int half = sides->now()->width();
        QTest::keyClick(page_->strips(), Qt::Key_Y);
        QVERIFY(sides->seamShown());
        QVERIFY(sides->now()->width() > half);
        QCOMPARE(sides->now()->geometry(), sides->before()->geometry());
        auto* seam = w_->find<QWidget>(QStringLiteral("seam"));
        QVERIFY(seam->isVisible());
        const double before = sides->seam();
        QTest::mousePress(seam, Qt::LeftButton, {}, seam->rect().center());
        QTest::mouseMove(seam, seam->rect().center() + QPoint(-120, 0));
        QMouseEvent drag(QEvent::MouseMove, seam->rect().center() + QPoint(-120, 0),
                         seam->mapToGlobal(seam->rect().center() + QPoint(-120, 0)), Qt::NoButton,
                         Qt::LeftButton, {});
        QApplication::sendEvent(seam, &drag);
        QTest::mouseRelease(seam, Qt::LeftButton, {}, seam->rect().center());
        QVERIFY(sides->seam() < before);
        // left of it one sees the build before, right of it this one
        QVERIFY(!sides->now()->mask().contains(QPoint(2, 10)));
        QVERIFY(sides->now()->mask().contains(QPoint(sides->now()->width() - 2, 10)));
        QTest::keyClick(page_->strips(), Qt::Key_Y);
        QVERIFY(!sides->seamShown());
    }

    void theTableOfTheJoint() {
        press("compareWorse");
        QTest::mouseClick(
            page_->strips()->viewport(), Qt::LeftButton, {},
            QPoint(40, page_->strips()->pointOf(page_->strips()->motionAt(0), 0).y())); // its name
        QTableWidget* table = page_->table()->table();
        QVERIFY(table->rowCount() > 3);
        QCOMPARE(table->horizontalHeaderItem(1)->text(), QStringLiteral("build 2"));
        QCOMPARE(table->horizontalHeaderItem(2)->text(), QStringLiteral("build 3"));
        QVERIFY2(table->item(0, 2)->toolTip() == QLatin1String("worse"),
                 qPrintable(table->item(0, 2)->toolTip()));
        const Colouring before = page_->sides()->colouring();
        int other = -1;
        for (int r = 0; r < table->rowCount(); ++r)
            if (table->item(r, 0)->text() == QLatin1String("volume"))
                other = r;
        QVERIFY(other >= 0);
        QTest::mouseClick(table->viewport(), Qt::LeftButton, {},
                          table->visualItemRect(table->item(other, 0)).center());
        QVERIFY(page_->sides()->colouring() != before);
        QCOMPARE(page_->sides()->before()->colouring(), page_->sides()->now()->colouring());
    }

    // Every open defect of builds 1 and 2 has its verdict, told on Intake and the Log as well.
    void theLogsDefectsWereChecked() {
        QVERIFY(QTest::qWaitFor([this] { return desk_->checks() && !session_->jobs().busy(); }, 60000));
        QVERIFY(!desk_->checks()->checks.isEmpty());
        QCOMPARE(page_->verdicts()->model()->rowCount(), static_cast<int>(desk_->checks()->checks.size()));
        QVERIFY2(words("checked").contains(QStringLiteral("open defects checked")),
                 qPrintable(words("checked")));
        for (Page* page :
             {static_cast<Page*>(w_->window->intake()), static_cast<Page*>(w_->window->logPage())}) {
            w_->window->showPage(page);
            bool told = false;
            for (CheckedLine* line : page->findChildren<CheckedLine*>())
                told |= TestWindow::wordsOf(line).contains(words("checked"));
            QVERIFY2(told, qPrintable(page->title()));
        }
        w_->window->showPage(page_);
    }

    // By keys: the next one shows its pose on both sides; keep writes the verdict; close moves it, and comes
    // back by undo.
    void workedThroughByKeys() {
        page_->verdicts()->setFocus();
        QTest::keyClick(page_->verdicts(), Qt::Key_Period);
        const qint64 first = page_->verdicts()->chosen();
        QVERIFY(first > 0);
        QCOMPARE(desk_->shownCheck(), first);
        QVERIFY(shown());
        QTest::keyClick(page_->verdicts(), Qt::Key_K);
        const auto verdictsOf = [&](qint64 id) {
            QStringList out;
            const auto history = session_->log().historyOf(id);
            for (const DefectEvent& e : *history)
                if (e.field == QLatin1String("verdict"))
                    out << e.value;
            return out;
        };
        QCOMPARE(verdictsOf(first).size(), 1);
        QVERIFY(desk_->settled(first));
        const auto cured = desk_->curedOnes();
        QVERIFY(!cured.isEmpty());
        const qint64 id = cured.front();
        const DefectState state = session_->log().find(id)->state;
        page_->verdicts()->choose(id);
        QTest::keyClick(page_->verdicts(), Qt::Key_C);
        QCOMPARE(session_->log().find(id)->state, DefectState::Closed);
        QCOMPARE(verdictsOf(id).back(), QStringLiteral("cured"));
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(session_->log().find(id)->state, state);
        // all that are cured, at once
        page_->verdicts()->setFocus();
        QTest::keyClick(page_->verdicts(), Qt::Key_C, Qt::ShiftModifier);
        for (qint64 each : cured)
            QCOMPARE(session_->log().find(each)->state, DefectState::Closed);
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(session_->log().find(id)->state, state);
    }

    // A verdict on a defect of another build than it is laid against: one press lays it beside that one.
    void besideTheBuildItWasSeenOn() {
        const auto& checks = desk_->checks()->checks;
        const auto other = std::find_if(checks.begin(), checks.end(), [this](const DefectCheck& c) {
            return c.defect.build.id != desk_->againstWhichBuild();
        });
        QVERIFY(other != checks.end());
        const qint64 id = other->defect.id, build = other->defect.build.id,
                     before = desk_->againstWhichBuild();
        const int number = other->defect.build.number;
        page_->verdicts()->choose(id);
        auto* beside = w_->find<QPushButton>(QStringLiteral("checkThen"));
        QVERIFY(beside->isVisible());
        QCOMPARE(beside->text(), QStringLiteral("Beside build %1").arg(number));
        QTest::mouseClick(beside, Qt::LeftButton);
        QVERIFY(compared());
        QCOMPARE(desk_->againstWhichBuild(), build);
        QVERIFY(shown());
        QVERIFY(!beside->isVisible());
        QCOMPARE(page_->verdicts()->chosen(), id);
        QCOMPARE(desk_->shownCheck(), id);
        if (const int motion = desk_->comparison()->sides[1].run->plan.find(
                presentId(desk_->check(id)->defect.facts.motion.toStdString()));
            motion >= 0)
            QCOMPARE(desk_->motion(), motion);
        desk_->againstBuild(before);
        QVERIFY(compared());
    }

    void givenBackWithAWord() {
        const auto& checks = desk_->checks()->checks;
        // one that is not cured, and that nobody is at
        const auto claimed = std::find_if(checks.begin(), checks.end(), [this](const DefectCheck& c) {
            const Defect* d = session_->log().find(c.defect.id);
            return !c.cured() && isOpen(d->state) && d->state != DefectState::BeingFixed;
        });
        QVERIFY(claimed != checks.end());
        page_->verdicts()->choose(claimed->defect.id);
        QTest::keyClick(page_->verdicts(), Qt::Key_R);
        auto* why = w_->find<QLineEdit>(QStringLiteral("giveBackWhy"));
        QVERIFY(why->isVisible());
        QTest::keyClicks(why, QStringLiteral("still there at the end of the bend"));
        QTest::keyClick(why, Qt::Key_Return);
        QCOMPARE(session_->log().find(claimed->defect.id)->state, DefectState::BeingFixed);
    }

    void fromTheLogToBothBuilds() {
        const qint64 id = desk_->checks()->checks.front().defect.id;
        w_->window->showPage(w_->window->logPage());
        w_->window->logPage()->choose(id);
        auto* line = w_->window->logPage()->panel()->findChild<CheckedLine*>();
        QVERIFY(QTest::qWaitFor([&] { return line->isVisible(); }, 60000));
        QTest::mouseClick(line->findChild<QPushButton*>(), Qt::LeftButton);
        QCOMPARE(w_->window->shownPage(), static_cast<Page*>(page_));
        QVERIFY(compared());
        QCOMPARE(page_->verdicts()->chosen(), id);
    }

    // Not while something serious is open: what stands in the way is said, nothing is signed.
    void signingOff() {
        auto* use = w_->find<QLineEdit>(QStringLiteral("signFor"));
        QVERIFY(use->isVisible());
        QSignalSpy refused(desk_, &Desk::failed);
        press("signOff");
        QVERIFY(refused.size() == 1);
        QVERIFY2(refused[0][0].toString().contains(QStringLiteral("Not signed off")),
                 qPrintable(refused[0][0].toString()));
        QVERIFY(desk_->signOffs().isEmpty());
    }

    void leftAgainstRightAndItself() {
        desk_->leftAgainstRight();
        QVERIFY(compared());
        QVERIFY(desk_->comparison()->mirrored());
        QCOMPARE(words("compareNow"), QStringLiteral("Right against"));
        QVERIFY(page_->strips()->rows() > 0);
        QVERIFY(shown());
        desk_->againstFile(file("builds/3/badger-postmaster.glb"));
        QVERIFY(compared());
        QVERIFY2(words("compareNotes").contains(QStringLiteral("the same file")),
                 qPrintable(words("compareNotes")));
        QVERIFY(words("compareSentence").contains(QStringLiteral("The same at all")));
    }

    void anotherVariantOfIt() {
        Variant bare;
        bare.name = "bare";
        bare.partsOff = {"coat"};
        session_->build().setVariants({bare});
        w_->choose(QStringLiteral("against"), QStringLiteral("itself, bare"));
        QVERIFY(compared());
        QCOMPARE(desk_->comparison()->versus, Versus::Variant);
        QCOMPARE(words("compareNow"), QStringLiteral("The build itself against"));
        QCOMPARE(w_->find<QPushButton>(QStringLiteral("against"))->text(), QStringLiteral("bare"));
        QVERIFY2(words("skinDiffers").contains(QStringLiteral("no counterpart")) &&
                     !words("skinDiffers").contains(QStringLiteral("made anew")),
                 qPrintable(words("skinDiffers")));
        QVERIFY(shown());
    }

    void whatCannotBeCompared() {
        desk_->againstFile(QStringLiteral("/nowhere/at-all.glb"));
        QVERIFY(QTest::qWaitFor([this] { return !desk_->whyNot().isEmpty(); }, 60000));
        QVERIFY2(words("compareSentence").contains(QStringLiteral("at-all.glb")),
                 qPrintable(words("compareSentence")));
        QVERIFY(!desk_->comparison());
        desk_->againstFile(file("lighthouse-newt.glb"));
        QVERIFY(compared());
        QCOMPARE(desk_->comparison()->versus, Versus::Character);
        QVERIFY2(words("compareNotes").contains(QStringLiteral("nother character")),
                 qPrintable(words("compareNotes")));
        QVERIFY(shown());
    }

    // Where nothing serious is open: signed by one press, and taken back with a reason.
    void signedOffAndTakenBack() {
        Limits wide = Limits::standard();
        wide.byRole.clear();
        for (auto& [kind, steps] : wide.general)
            for (double& step : steps)
                step = unchangedOf(kind) + 1000 * (step - unchangedOf(kind));
        session_->log().open(w_->folder.filePath(QStringLiteral("fresh.sqlite")));
        QVERIFY(w_->openAndRun(file("pack-goat.glb")));
        session_->run().setLimits(wide);
        QVERIFY(w_->finished());
        w_->window->showPage(page_);
        QCOMPARE(words("signed"), QStringLiteral("Not signed off."));
        auto* use = w_->find<QLineEdit>(QStringLiteral("signFor"));
        use->setFocus();
        use->selectAll();
        QTest::keyClicks(use, QStringLiteral("to lighting"));
        QTest::keyClick(use, Qt::Key_Return);
        QTRY_VERIFY2(words("signed").startsWith(QStringLiteral("Signed off to lighting by")),
                     qPrintable(words("signed")));
        QTRY_VERIFY(!w_->find<QPushButton>(QStringLiteral("signOff"))->isVisible());
        const QString paper = w_->folder.filePath(QStringLiteral("signed.pdf"));
        desk_->printSignOff(desk_->signOffs().front(), paper);
        QTRY_VERIFY_WITH_TIMEOUT(QFileInfo(paper).size() > 2000, 60000);
        QFile printed(paper);
        QVERIFY(printed.open(QIODevice::ReadOnly));
        QVERIFY(printed.readAll().startsWith("%PDF"));
        // a reason is wanted
        press("takeBack");
        QTest::keyClicks(use, QStringLiteral("the tail was forgotten"));
        QTest::keyClick(use, Qt::Key_Return);
        QTRY_COMPARE(words("signed"), QStringLiteral("Not signed off."));
        QVERIFY(!desk_->signOffs().isEmpty());
        QCOMPARE(desk_->signOffs().front().reason, QStringLiteral("the tail was forgotten"));
        QTRY_COMPARE(use->text(), QStringLiteral("to animation"));
        session_->run().setLimits(Limits::standard());
    }
};

HOBBLE_TEST(TestComparePage)
#include "test_compare_page.moc"
