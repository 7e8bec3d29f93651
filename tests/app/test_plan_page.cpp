// The Plan page as a lead uses it: typing ranges, dragging arcs and hands, keeping poses, taking a clip,
// dressing variants, going back to a version; all of it undone again.
#include "app/plan/clip_strip.h"
#include "app/plan/range_arcs.h"
#include "app/plan/variant_strips.h"
#include "app/session/plan_desk.h"
#include "io/character_read.h"
#include "support/window_test.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QListWidget>
#include <QSignalSpy>
#include <QSpinBox>
#include <QTreeView>
#include <QTreeWidget>

using namespace hobble;
using namespace hobble::test;

class TestPlanPage : public QObject {
    Q_OBJECT

    std::unique_ptr<TestWindow> w_;

    PoseDesk* desk() const { return &w_->session->pose(); }
    Viewport* view() const { return w_->window->planPage()->viewport(); }
    QTreeView* list() const { return w_->find<QTreeView>(QStringLiteral("planMotions")); }
    PlanModel* model() const { return static_cast<PlanModel*>(list()->model()); }
    const Motion& motion(const char* id) const {
        return w_->session->plan().plan().motions[std::size_t(w_->motion(id))];
    }
    int joint(const char* name) const {
        return w_->session->build().subject()->character->skeleton.find(name);
    }
    QString text(const char* label) const { return w_->find<QLabel>(QLatin1String(label))->text(); }
    void press(const char* button) const {
        QTest::mouseClick(w_->find<QPushButton>(QLatin1String(button)), Qt::LeftButton);
    }
    QModelIndex row(const char* id) const { return model()->indexOf(w_->motion(id)); }

    bool posed() const {
        comeToRest();
        return QTest::qWaitFor(
            [this] {
                const auto f = desk()->view().frame();
                if (!f || f->subject != w_->session->build().subject())
                    return false;
                const auto world = drive(*f->subject->character, desk()->pose()).world;
                for (std::size_t j = 0; j < world.size(); ++j)
                    if ((world[j].translation().cast<float>() - f->jointPosition[j]).norm() > 1e-4f)
                        return false;
                return true;
            },
            60000);
    }
    void drag(const QPointF& from, const QPointF& to) const {
        QTest::mousePress(view(), Qt::LeftButton, {}, from.toPoint());
        for (int i = 1; i <= 6; ++i) {
            QTest::mouseMove(view(), (from + (to - from) * i / 6).toPoint());
            comeToRest();
        }
        QTest::mouseRelease(view(), Qt::LeftButton, {}, to.toPoint());
        comeToRest();
    }
    std::vector<RangeArc> arcs() const {
        const Subject& s = *w_->session->build().subject();
        return rangeArcs(*s.character, s.roles, desk()->ranges(), desk()->pose(),
                         worldTransforms(s.character->skeleton, desk()->pose()), desk()->joint());
    }

private slots:
    void initTestCase() {
        w_ = std::make_unique<TestWindow>(QStringLiteral("plan-page"));
        for (const QString& folder : {PoseDesk::shelfFolder(),
                                      QStandardPaths::writableLocation(QStandardPaths::AppConfigLocation) +
                                          QStringLiteral("/variants"),
                                      QStandardPaths::writableLocation(QStandardPaths::AppConfigLocation) +
                                          QStringLiteral("/joint-maps")})
            QDir(folder).removeRecursively();
        w_->session->log().open(w_->folder.filePath(QStringLiteral("log.sqlite")));
        QVERIFY(w_->openAndRun(QStringLiteral(HOBBLE_DEMO_DIR "/badger-postmaster.glb")));
        QTest::keyClick(w_->window.get(), Qt::Key_2, Qt::ControlModifier);
        QVERIFY(list()->isVisible());
        QVERIFY(view());
    }

    void init() {
        desk()->showPose(Pose::neutral(w_->session->build().subject()->character->skeleton), {});
        desk()->selectJoint(-1);
        view()->frameAll(false);
    }

    void costIsSaidBeforeRunning() {
        QVERIFY2(text("planTotals").contains(QStringLiteral("motions")), qPrintable(text("planTotals")));
        QCOMPARE(text("planStale"), QStringLiteral("Run as it stands."));
    }

    void rangeIsTyped() {
        const double before = motion("left-elbow-flex").limit(), other = motion("right-elbow-flex").limit();
        list()->setCurrentIndex(row("left-elbow-flex").siblingAtColumn(PlanModel::To));
        list()->edit(list()->currentIndex());
        auto* editor = list()->findChild<QLineEdit*>();
        QVERIFY(editor);
        editor->selectAll();
        QTest::keyClicks(editor, QStringLiteral("100"));
        QTest::keyClick(editor, Qt::Key_Return);
        QTRY_COMPARE(motion("left-elbow-flex").limit(), 100.0);
        QCOMPARE(motion("right-elbow-flex").limit(), 100 + other - before); // both sides at once
        QCOMPARE(motion("left-elbow-flex").source, std::string("set by hand"));
        QVERIFY2(text("planStale").contains(QStringLiteral("2 changes")) &&
                     text("planStale").contains(QStringLiteral("To measure: 2 motions")) &&
                     text("planStale").contains(QStringLiteral("about")),
                 qPrintable(text("planStale")));
        QVERIFY(
            w_->find<QPushButton>(QStringLiteral("pagePlan"))->text().contains(QStringLiteral("2 changed")));
        QVERIFY(text("sinceRun").contains(QStringLiteral("left elbow flex goes to 100°")));
        // what has not changed keeps its results, what has waits for a run
        QVERIFY(w_->session->run().resultOf(w_->motion("left-knee-flex")));
        QVERIFY(!w_->session->run().resultOf(w_->motion("left-elbow-flex")));
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(motion("left-elbow-flex").limit(), before);
        QCOMPARE(motion("right-elbow-flex").limit(), other);
    }

    void runningMeasuresOnlyWhatChanged() {
        w_->session->plan().setRange("left-elbow-flex", 90, true);
        QTest::keyClick(w_->window.get(), Qt::Key_Return, Qt::ControlModifier);
        QVERIFY(w_->finished());
        QVERIFY(w_->session->run().resultOf(w_->motion("left-elbow-flex")));
        QVERIFY(w_->session->run().run()->posesMeasured < 30);
        QVERIFY(w_->session->run().changesSinceRun().empty());
        QVERIFY(w_->find<QWidget>(QStringLiteral("pageReview"))->isVisible());
        QTest::keyClick(w_->window.get(), Qt::Key_2, Qt::ControlModifier);
        w_->session->undoStack().undo();
        QVERIFY(w_->session->run().changesSinceRun().size() == 2);
        w_->session->run().start();
        QVERIFY(w_->finished());
    }

    void motionsAreSwitchedOff() {
        const std::size_t poses = w_->session->run().cost().poses;
        const QModelIndex limb = row("left-elbow-flex").parent();
        QVERIFY(model()->setData(limb, Qt::Unchecked, Qt::CheckStateRole));
        QVERIFY(!motion("left-elbow-flex").on && !motion("right-shoulder-raise").on);
        QCOMPARE(model()->data(limb, Qt::CheckStateRole).toInt(), int(Qt::Unchecked));
        QVERIFY(w_->session->run().cost().poses < poses);
        w_->session->undoStack().undo();
        QVERIFY(motion("left-elbow-flex").on);
        // the Delete key takes a pose out, and leaves a joint's motion in, off
        list()->setCurrentIndex(row("pose-sit"));
        list()->setFocus();
        QTest::keyClick(list(), Qt::Key_Delete);
        QCOMPARE(w_->session->plan().plan().find("pose-sit"), -1);
        w_->session->undoStack().undo();
        QVERIFY(w_->session->plan().plan().find("pose-sit") >= 0);
    }

    void arcShowsAndTurns() {
        list()->setCurrentIndex(row("left-elbow-flex"));
        QCOMPARE(desk()->joint(), joint("forearm.L"));
        QVERIFY(posed());
        w_->window->planPage()->viewport()->settle();
        desk()->showPose(Pose::neutral(w_->session->build().subject()->character->skeleton), {});
        QVERIFY(posed());
        auto all = arcs();
        QVERIFY(!all.empty());
        QCOMPARE(all[0].axis, 0);
        QVERIFY(std::abs(std::max(all[0].most, -all[0].least) - motion("left-elbow-flex").limit()) < 1);
        const double sign = all[0].hasMost && all[0].most > 60 ? 1 : -1;
        drag(view()->project(all[0].at(all[0].now)), view()->project(all[0].at(60 * sign)));
        QVERIFY(posed());
        const double now = arcs()[0].now;
        QVERIFY2(std::abs(now - 60 * sign) < 6, qPrintable(QString::number(now)));
        auto* spin = w_->find<QDoubleSpinBox>(QStringLiteral("angle0"));
        QVERIFY(std::abs(spin->value() - now) < 1);
        QVERIFY2(text("poseWords").contains(QStringLiteral("bend")), qPrintable(text("poseWords")));
        // never past the range while it is kept to
        drag(view()->project(arcs()[0].at(now)), view()->project(arcs()[0].at(175 * sign)));
        QVERIFY(beyond(desk()->ranges()[std::size_t(desk()->joint())],
                       desk()->pose().turn[std::size_t(desk()->joint())]) < 0.5);
        QTest::keyClick(w_->window.get(), Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(std::abs(arcs()[0].now - now) < 0.5);
        // typed
        spin->setFocus();
        spin->selectAll();
        QTest::keyClicks(spin, QString::number(int(30 * sign)));
        QTest::keyClick(spin, Qt::Key_Return);
        QVERIFY(std::abs(arcs()[0].now - 30 * sign) < 0.5);
    }

    void arcsEndChangesThePlan() {
        list()->setCurrentIndex({});
        list()->setCurrentIndex(row("left-knee-flex"));
        QVERIFY(posed());
        w_->window->planPage()->viewport()->settle();
        desk()->showPose(Pose::neutral(w_->session->build().subject()->character->skeleton), {});
        QVERIFY(posed());
        const double before = motion("left-knee-flex").limit();
        RangeArc arc = arcs()[0];
        const bool most = arc.hasMost && arc.most > 60;
        const double end = most ? arc.most : arc.least;
        drag(view()->project(arc.at(end)), view()->project(arc.at(end * 0.6)));
        const double now = motion("left-knee-flex").limit();
        QVERIFY2(std::abs(now - 0.6 * before) < 8, qPrintable(QString::number(now)));
        QVERIFY(std::abs(motion("right-knee-flex").limit() - now) < 3);
        w_->session->undoStack().undo();
        QCOMPARE(motion("left-knee-flex").limit(), before);
    }

    void handIsDragged() {
        const int hand = joint("hand.L"), foot = joint("foot.L");
        QVERIFY(posed());
        QVERIFY(std::find(desk()->ends().begin(), desk()->ends().end(), hand) != desk()->ends().end());
        const auto at = [&](int j) {
            return Vec3d(worldTransforms(w_->session->build().subject()->character->skeleton,
                                         desk()->pose())[std::size_t(j)]
                             .translation());
        };
        const Vec3d before = at(hand), stood = at(foot);
        const QPointF from = view()->project(before);
        drag(from, from + QPointF(-10, -30));
        QVERIFY(posed());
        QVERIFY((at(hand) - before).norm() > 0.05);
        QVERIFY((at(foot) - stood).norm() < 1e-9);
        const QPointF landed = view()->project(at(hand));
        QVERIFY2(std::hypot(landed.x() - from.x() + 10, landed.y() - from.y() + 30) < 4,
                 qPrintable(QStringLiteral("%1 %2 %3")
                                .arg(landed.x() - from.x())
                                .arg(landed.y() - from.y())
                                .arg(text("poseWords"))));
        w_->session->undoStack().undo();
        QVERIFY((at(hand) - before).norm() < 1e-9);
        w_->session->undoStack().redo();
        QVERIFY((at(hand) - before).norm() > 0.05);
        // far away: it says that it cannot
        drag(view()->project(at(hand)), QPointF(20, 20));
        QVERIFY2(text("poseWords").contains(QStringLiteral("cannot reach")), qPrintable(text("poseWords")));
    }

    void hipsSinkAndTheFeetStay() {
        QVERIFY(posed());
        const int hips = joint("pelvis"), foot = joint("foot.L");
        const auto at = [&](int j) {
            return Vec3d(worldTransforms(w_->session->build().subject()->character->skeleton,
                                         desk()->pose())[std::size_t(j)]
                             .translation());
        };
        const Vec3d stood = at(foot);
        const QPointF from = view()->project(at(hips));
        drag(from, from + QPointF(0, 14));
        QVERIFY((at(foot) - stood).norm() < 0.004);
        QVERIFY(at(hips).y() < w_->session->build()
                                       .subject()
                                       ->character->skeleton.neutralWorld[std::size_t(hips)]
                                       .translation()
                                       .y() -
                                   0.01);
        QVERIFY(text("poseWords").contains(QStringLiteral("stands")) ||
                text("poseWords").contains(QStringLiteral("tip")));
    }

    void mirrorsAndCopies() {
        list()->setCurrentIndex({});
        list()->setCurrentIndex(row("left-elbow-flex"));
        const auto turn = [&](const char* name) {
            return degrees(desk()->pose().turn[std::size_t(joint(name))].angularDistance(Quat::Identity()));
        };
        const double bent = turn("forearm.L");
        QVERIFY(bent > 90 && turn("forearm.R") < 1);
        press("poseMirror");
        QVERIFY(turn("forearm.L") < 1 && std::abs(turn("forearm.R") - bent) < 1);
        press("poseFromRight");
        QVERIFY(std::abs(turn("forearm.L") - bent) < 1);
        press("poseNeutral");
        QVERIFY(turn("forearm.L") < 1e-6);
        w_->session->undoStack().undo();
        QVERIFY(turn("forearm.L") > 90);
    }

    void posesGoOnTheShelfAndIntoThePlan() {
        list()->setCurrentIndex({});
        list()->setCurrentIndex(row("pose-sit"));
        auto* name = w_->find<QLineEdit>(QStringLiteral("poseName"));
        name->selectAll();
        QTest::keyClicks(name, QStringLiteral("on the bench"));
        press("poseToShelf");
        auto* shelf = w_->find<QListWidget>(QStringLiteral("poseShelf"));
        const auto items = shelf->findItems(QStringLiteral("on the bench"), Qt::MatchExactly);
        QCOMPARE(items.size(), 1);
        QVERIFY(QFile::exists(PoseDesk::shelfFolder() + QStringLiteral("/on_the_bench.json")));
        const Pose sitting = desk()->pose();
        press("poseNeutral");
        QTest::mouseClick(shelf->viewport(), Qt::LeftButton, {}, shelf->visualItemRect(items[0]).center());
        for (std::size_t j = 0; j < sitting.turn.size(); ++j)
            QVERIFY(sitting.turn[j].angularDistance(desk()->pose().turn[j]) < 1e-6);
        QCOMPARE(name->text(), QStringLiteral("on the bench"));
        press("poseToPlan");
        QVERIFY(w_->session->plan().plan().find("pose-on_the_bench") >= 0);
        QVERIFY(motion("pose-on_the_bench").span == Span::Percent);
        // thumbnails come by themselves
        QVERIFY(QTest::qWaitFor(
            [&] {
                const QImage icon = shelf->item(0)->icon().pixmap(80, 88).toImage();
                return icon.pixelColor(icon.width() / 2, icon.height() / 2) != icon.pixelColor(2, 2);
            },
            60000));
        w_->session->undoStack().undo();
        QCOMPARE(w_->session->plan().plan().find("pose-on_the_bench"), -1);
        shelf->setCurrentItem(shelf->findItems(QStringLiteral("on the bench"), Qt::MatchExactly).front());
        press("poseAway");
        QVERIFY(shelf->findItems(QStringLiteral("on the bench"), Qt::MatchExactly).isEmpty());
        w_->session->undoStack().undo();
        QCOMPARE(shelf->findItems(QStringLiteral("on the bench"), Qt::MatchExactly).size(), 1);
    }

    void clipIsCarriedOver() {
        press("paneClips");
        desk()->openClip(QStringLiteral(HOBBLE_DEMO_DIR "/long-limbed.bvh"));
        QVERIFY(QTest::qWaitFor([&] { return desk()->clip() && !w_->session->jobs().busy(); }, 60000));
        QVERIFY(text("clipTitle").contains(QStringLiteral("long-limbed.bvh")));
        QVERIFY(text("clipTitle").contains(QStringLiteral("carried over")));
        auto* strip = w_->find<ClipStrip>(QStringLiteral("clipStrip"));
        QTest::mouseClick(strip, Qt::LeftButton, {}, QPoint(strip->width() / 2, strip->height() / 2));
        const std::size_t middle = strip->place();
        QVERIFY(middle > 10);
        QVERIFY2(text("clipFrame").contains(QStringLiteral("past the plan")), qPrintable(text("clipFrame")));
        strip->setFocus();
        QTest::keyClick(strip, Qt::Key_Right);
        QCOMPARE(strip->place(), middle + 1);
        w_->find<QComboBox>(QStringLiteral("clipWhich"))->setCurrentIndex(1);
        w_->find<QSpinBox>(QStringLiteral("clipMost"))->setValue(6);
        w_->find<QComboBox>(QStringLiteral("clipBeyond"))->setCurrentIndex(2);
        const std::size_t before = w_->session->plan().plan().motions.size();
        press("clipToPlan");
        QVERIFY(w_->session->plan().plan().motions.size() > before);
        std::size_t frames = 0;
        for (const Motion& m : w_->session->plan().plan().motions)
            frames += m.span == Span::Frames ? m.frames.size() : 0;
        QVERIFY(frames > 0 && frames <= 6);
        w_->session->run().start();
        QVERIFY(w_->finished());
        w_->session->undoStack().undo();
        QCOMPARE(w_->session->plan().plan().motions.size(), before);
        // what a joint is taken for is corrected, and kept for the next clip of that body
        RetargetSettings said = desk()->clip()->settings;
        said.said["tail_1"] = "";
        desk()->chooseClip(0, said);
        QVERIFY(QTest::qWaitFor(
            [&] { return !w_->session->jobs().busy() && !desk()->clip()->settings.said.empty(); }, 60000));
        desk()->openClip(QStringLiteral(HOBBLE_DEMO_DIR "/long-limbed.bvh"));
        QVERIFY(QTest::qWaitFor([&] { return !w_->session->jobs().busy(); }, 60000));
        QCOMPARE(desk()->clip()->settings.said.count("tail_1"), std::size_t(1));
        // what is no clip is told, and the one on the desk stays
        QSignalSpy failed(&w_->session->pose(), &Desk::failed);
        desk()->openClip(QStringLiteral("/nowhere/walk.bvh"));
        QVERIFY(QTest::qWaitFor([&] { return failed.count() > 0; }, 60000));
        QVERIFY(desk()->clip());
    }

    void variantsAreTested() {
        press("paneVariants");
        auto* name = w_->find<QLineEdit>(QStringLiteral("variantName"));
        QTest::keyClicks(name, QStringLiteral("bare"));
        QTest::keyClick(name, Qt::Key_Return);
        QVERIFY(QTest::qWaitFor(
            [&] { return w_->session->build().variant() == 0 && !w_->session->jobs().busy(); }, 60000));
        auto* coat = w_->find<QCheckBox>(QStringLiteral("variantPart_coat"));
        QTest::mouseClick(coat, Qt::LeftButton, {}, QPoint(8, coat->height() / 2));
        QVERIFY(QTest::qWaitFor(
            [&] {
                return w_->session->build().variants()[0].partsOff.size() == 1 &&
                       !w_->session->jobs().busy() && w_->session->run().run() &&
                       w_->session->build().subject()->character->triangles.size() <
                           w_->session->build().build()->triangles.size();
            },
            60000));
        press("variantTest");
        QVERIFY(QTest::qWaitFor(
            [&] { return w_->session->run().variantResults().size() == 2 && !w_->session->jobs().busy(); },
            120000));
        QVERIFY2(text("variantResults").contains(QStringLiteral("bare: ")),
                 qPrintable(text("variantResults")));
        // side by side: the sleeve is gone, so the elbow goes otherwise; pressed, that is put on and posed
        auto* strips = w_->find<VariantStrips>(QStringLiteral("variantStrips"));
        QVERIFY(strips->isVisible() && strips->rows() > 0);
        QCOMPARE(strips->columns(), 2);
        QTest::mouseClick(strips->viewport(), Qt::LeftButton, {}, strips->pointOf(0, 0, 20));
        QVERIFY(QTest::qWaitFor(
            [&] { return w_->session->build().variant() == -1 && !w_->session->jobs().busy(); }, 60000));
        QVERIFY(std::abs(w_->session->run().poseAt() - 20) < 3);
        const QString shown = strips->accessibleDescription();
        QVERIFY2(shown.contains(QStringLiteral("the build as it is: ")), qPrintable(shown));
        QTest::keyClick(strips, Qt::Key_Right); // the same pose without the coat
        QVERIFY(QTest::qWaitFor(
            [&] { return w_->session->build().variant() == 0 && !w_->session->jobs().busy(); }, 60000));
        QVERIFY(std::abs(w_->session->run().poseAt() - 20) < 3);
        const QString otherwise = strips->accessibleDescription();
        QVERIFY2(
            otherwise.contains(QStringLiteral("bare: ")) &&
                (otherwise.contains(QStringLiteral("worse")) || otherwise.contains(QStringLiteral("better"))),
            qPrintable(otherwise));
        press("panePoses");
        QVERIFY(!strips->isVisible());
        press("paneVariants");
        QVERIFY(strips->isVisible());
        w_->session->build().wear(-1);
        QVERIFY(QTest::qWaitFor(
            [&] {
                return w_->session->build().variant() == -1 && w_->session->run().run() &&
                       !w_->session->jobs().busy();
            },
            60000));
        QCOMPARE(w_->session->build().subject()->character->hash, w_->session->build().build()->hash);
    }

    // What the plan does not move is said on three pages, shown with the reason, and put in; undone again.
    void whatIsNotMovedIsSaid() {
        const auto words = [this] {
            QStringList out;
            for (auto* l : w_->window->findChildren<QLabel*>(QStringLiteral("coverageWords")))
                out << l->text();
            return out;
        };
        const QStringList before = words();
        QCOMPARE(before.size(), 3);
        std::vector<std::string> off;
        for (const Motion& m : w_->session->plan().plan().motions)
            if (m.limb == Limb::Arms || m.limb == Limb::Hands || m.limb == Limb::Poses ||
                m.limb == Limb::Clips)
                off.push_back(m.id);
        w_->session->plan().setOn(off, false);
        for (const QString& line : words())
            QVERIFY2(line.contains(QStringLiteral("not tested: ")) && line != before.front(),
                     qPrintable(line));
        press("coverageWhich");
        auto* dialog = w_->window->findChild<QDialog*>(QStringLiteral("coverage"));
        QVERIFY(dialog);
        QVERIFY(QTest::qWaitForWindowExposed(dialog));
        auto* joints = dialog->findChild<QTreeWidget*>(QStringLiteral("coverageJoints"));
        const int many = joints->topLevelItemCount();
        QVERIFY(many > 8);
        const QString first = joints->topLevelItem(0)->text(0);
        QCOMPARE(joints->topLevelItem(0)->text(2), QStringLiteral("its motions are off"));
        joints->setCurrentItem(joints->topLevelItem(0));
        auto* put = dialog->findChild<QPushButton*>(QStringLiteral("coveragePut"));
        QCOMPARE(put->text(), QStringLiteral("Test the chosen"));
        QTest::mouseClick(put, Qt::LeftButton);
        QVERIFY(joints->topLevelItemCount() < many);
        for (int i = 0; i < joints->topLevelItemCount(); ++i)
            QVERIFY(joints->topLevelItem(i)->text(0) != first);
        QCOMPARE(put->text(), QStringLiteral("Test them all"));
        QTest::mouseClick(put, Qt::LeftButton);
        QCOMPARE(words().front(), before.front());
        dialog->close();
        for (int i = 0; i < 3; ++i)
            w_->session->undoStack().undo();
        QCOMPARE(words().front(), before.front());
    }

    void versionsAreKept() {
        press("paneVersions");
        auto* versions = w_->find<QListWidget>(QStringLiteral("planVersions"));
        auto* note = w_->find<QLineEdit>(QStringLiteral("planNote"));
        QTest::keyClicks(note, QStringLiteral("as agreed"));
        press("keepVersion");
        QVERIFY(versions->count() >= 1);
        QVERIFY2(versions->item(0)->text().contains(QStringLiteral("as agreed")),
                 qPrintable(versions->item(0)->text()));
        const int kept = versions->count();
        const double before = motion("left-elbow-flex").limit();
        w_->session->plan().setRange("left-elbow-flex", 80, true);
        QCOMPARE(versions->count(), kept + 1); // a settled version is not written on
        w_->session->plan().setRange("left-elbow-flex", 85, true);
        QCOMPARE(versions->count(), kept + 1);
        versions->setCurrentRow(1);
        QVERIFY2(text("versionDiffers").contains(QStringLiteral("elbow flex goes to 85°")),
                 qPrintable(text("versionDiffers")));
        press("takeVersion");
        QCOMPARE(motion("left-elbow-flex").limit(), before);
        // another lead's change is not written over
        auto other = ProductionLog::open(w_->folder.filePath(QStringLiteral("log.sqlite")));
        QVERIFY(other);
        const auto known = (*other)->plans(QStringLiteral("badger-postmaster"));
        QVERIFY(known && !known->isEmpty());
        QVERIFY((*other)->keepPlan(QStringLiteral("badger-postmaster"), known->front().plan,
                                   QStringLiteral("Juno Thrift"), QStringLiteral("mine"), true,
                                   known->front().id));
        QSignalSpy failed(&w_->session->plan(), &Desk::failed);
        w_->session->plan().setRange("left-elbow-flex", 70, true);
        QVERIFY(failed.count() == 1);
        QVERIFY(failed[0][0].toString().contains(QStringLiteral("Juno Thrift")));
        QCOMPARE(motion("left-elbow-flex").limit(), 70.0); // nothing is lost either
        QVERIFY(versions->item(0)->text().contains(QStringLiteral("mine")));
    }

    // Opened anew, the character has the plan as it was left.
    void planComesBack() {
        w_->session->plan().setRange("left-elbow-flex", 77, true);
        QVERIFY(w_->openAndRun(QStringLiteral(HOBBLE_DEMO_DIR "/badger-postmaster.glb")));
        QCOMPARE(motion("left-elbow-flex").limit(), 77.0);
        w_->session->plan().takeStandardPlan();
        QVERIFY(motion("left-elbow-flex").limit() > 100);
    }
};

HOBBLE_TEST(TestPlanPage)
#include "test_plan_page.moc"
