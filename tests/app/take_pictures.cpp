// hobble-take-pictures CHARACTER FOLDER [all]: drives the real window as a person would and saves a picture
// of each main view. Run under a display (Xvfb will do).
#include "app/main_window.h"
#include "app/plan/clip_strip.h"
#include "app/theme.h"

#include <QApplication>
#include <QComboBox>
#include <QDialog>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QPushButton>
#include <QScreen>
#include <QSettings>
#include <QStandardPaths>
#include <QTest>
#include <QTreeView>

using namespace hobble;

namespace {

void settle(int ms) { QTest::qWait(ms); }

bool waitForRun(Session& session) {
    return QTest::qWaitFor([&] { return session.run().run() != nullptr && !session.jobs().busy(); }, 60000);
}

} // namespace

int main(int argc, char** argv) {
    QStandardPaths::setTestModeEnabled(true);
    Viewport::requestOpenGl();
    QApplication app(argc, argv);
    QApplication::setOrganizationName(QStringLiteral("HobblePictures"));
    if (argc != 3 && argc != 4)
        return 2;
    const QString folder = QString::fromLocal8Bit(argv[2]);
    QSettings().setValue(QStringLiteral("author"), QStringLiteral("Petra Sandwort"));
    QFile::remove(RunDesk::limitsPath());
    QSettings().remove(QStringLiteral("recent"));
    QSettings().remove(QStringLiteral("showClips"));
    QDir(settingsFile(QStringLiteral("trials"))).removeRecursively();
    Theme::apply(false);
    // What is read on the pictures is to be what a person would have.
    const QDir made(QDir::temp().filePath(QStringLiteral("saltmarsh-post")));
    QDir().mkpath(made.path());
    const QString logFile = made.filePath(QStringLiteral("production-log.sqlite"));
    QFile::remove(logFile);
    Session session;
    MainWindow window(&session);
    window.show();
    if (!QTest::qWaitForWindowExposed(&window))
        return 1;
    QFile::copy(
        QFileInfo(QString::fromLocal8Bit(argv[1])).dir().filePath(QStringLiteral("../../demo-log.sqlite")),
        logFile);
    auto shot = [&](const char* name, int pause = 500) {
        settle(pause);
        QGuiApplication::primaryScreen()
            ->grabWindow(window.winId())
            .save(folder + QLatin1Char('/') + QString::fromLatin1(name) + QStringLiteral(".png"));
    };
    session.log().open(logFile);
    if (argc == 4)
        shot("state-empty");
    session.build().open(QString::fromLocal8Bit(argv[1]));
    if (argc == 4) { // half way through the run
        std::size_t in = 0;
        const auto count = QObject::connect(&session.run(), &RunDesk::motionMeasured, [&] { ++in; });
        (void)QTest::qWaitFor([&] { return in > 0 && in > session.plan().plan().motions.size() / 2; }, 60000);
        QObject::disconnect(count);
        shot("state-running", 1);
    }
    if (!waitForRun(session))
        return 1;
    // The log: a defect's story before and after, in its measure's colours, groups, workload, the ways it
    // goes out.
    const auto pictureTheLog = [&] {
        window.showPage(window.logPage());
        qint64 told = session.log().defects().front().id; // one whose story has more than one line
        for (const Defect& d : session.log().defects())
            if (d.facts.joint == QLatin1String("forearm.L") && d.build.number == 1)
                told = d.id;
        window.logPage()->choose(told);
        (void)QTest::qWaitFor([&] { return window.logPage()->panel()->storyTold(); }, 60000);
        shot("log");
        auto* group = window.findChild<QComboBox*>(QStringLiteral("groupBy"));
        group->setCurrentIndex(1);
        emit group->activated(1);
        window.findChild<QPushButton*>(QStringLiteral("storyMeasured"))->click();
        shot("log-groups");
        window.logPage()->showWorkload(true);
        shot("log-workload");
        window.logPage()->showWorkload(false);
        window.findChild<QPushButton*>(QStringLiteral("storyMeasured"))->click();
        group->setCurrentIndex(0);
        emit group->activated(0);
        if (argc == 4) {
            window.logPage()->showTrend(true);
            shot("state-log-trend", 900);
            window.logPage()->showTrend(false);
            window.logPage()->triage()->assign();
            shot("state-log-assign");
            if (QWidget* popup = QApplication::activePopupWidget())
                popup->close();
            window.logPage()->send();
            shot("state-log-send");
            window.findChild<QDialog*>(QStringLiteral("send"))->reject();
            settle(100);
        }
    };
    // Both builds side by side, then under the seam; and the states in between.
    const auto pictureCompare = [&](bool all) {
        CompareDesk& compare = session.compare();
        window.showPage(window.comparePage());
        const auto compared = [&] {
            return QTest::qWaitFor([&] { return compare.comparison() && !session.jobs().busy(); }, 180000);
        };
        if (!compared())
            return;
        shot("compare", 1500);
        window.comparePage()->verdicts()->step(1);
        window.findChild<QPushButton*>(QStringLiteral("compareSeam"))->click();
        window.findChild<QPushButton*>(QStringLiteral("compareDifference"))->click();
        shot("compare-seam", 1500);
        if (!all)
            return;
        compare.close(compare.curedOnes());
        shot("state-compare-closed", 600);
        Theme::apply(true, 1);
        window.comparePage()->restyle();
        shot("state-compare-night", 900);
        Theme::apply(false, 2);
        window.comparePage()->restyle();
        shot("state-compare-200", 900);
        Theme::apply(false, 1);
        window.comparePage()->restyle();
        for (const DefectCheck& c : compare.checks()->checks)
            if (c.defect.build.id != compare.againstWhichBuild()) {
                window.comparePage()->verdicts()->choose(c.defect.id);
                shot("state-compare-verdict", 900);
                break;
            }
        window.findChild<QPushButton*>(QStringLiteral("compareSeam"))->click();
        compare.leftAgainstRight();
        if (compared())
            shot("state-compare-sides", 1500);
        compare.againstFile(
            QFileInfo(QString::fromLocal8Bit(argv[1])).dir().filePath(QStringLiteral("../../pack-goat.glb")));
        if (compared())
            shot("state-compare-character", 2000);
        compare.againstFile(QString::fromLocal8Bit(argv[1]));
        if (compared())
            shot("state-compare-same", 1500);
        compare.againstNothing();
        shot("state-compare-nothing", 500);
    };
    // A fault from its proposals to steps of one's own.
    const auto pictureMend = [&](bool all) {
        MendDesk& mend = session.mend();
        MendPage* page = window.mendPage();
        const auto measured = [&] {
            return QTest::qWaitFor(
                [&] {
                    return mend.result() && !mend.measuring() && !session.jobs().busy() &&
                           mend.stepShares().size() == mend.trial().steps.size() && mend.view().arrived();
                },
                180000);
        };
        window.showPage(page);
        if (all)
            shot("state-mend-empty", 600);
        const RunResult& run = *session.run().run();
        int fault = 0;
        for (std::size_t f = 0; f < run.faults.size(); ++f)
            if (run.findings[static_cast<std::size_t>(run.faults[f].signs.front())].kind == Kind::Stretch) {
                fault = static_cast<int>(f);
                break;
            }
        mend.beginFor(run.faults[static_cast<std::size_t>(fault)].signs.front());
        (void)QTest::qWaitFor([&] { return !mend.cures().empty() || !mend.searching(); }, 120000);
        if (all)
            shot("state-mend-arriving", 100);
        (void)QTest::qWaitFor([&] { return !mend.searching() && !session.jobs().busy(); }, 180000);
        if (all)
            shot("state-mend-proposals", 1200);
        if (all && !mend.cures().empty()) {
            mend.showCure(0);
            (void)QTest::qWaitFor([&] { return mend.result() && !mend.measuring(); }, 60000);
            shot("state-mend-shown", 600);
            mend.showCure(-1);
            (void)measured();
        }
        mend.take(0);
        (void)measured();
        mend.apply(MendVerb::Softer, {});
        (void)measured();
        shot("mend", 800);
        if (!all)
            return;
        if (!page->viewport())
            return;
        mend.apply(MendVerb::ShapeHere, {});
        (void)measured();
        shot("state-mend-shape", 800);
        mend.apply(MendVerb::HalfTurn, {});
        (void)measured();
        shot("state-mend-helper", 800);
        window.findChild<QPushButton*>(QStringLiteral("mendBeside"))->click();
        (void)QTest::qWaitFor([&] { return mend.buildView().arrived(); }, 60000);
        shot("state-mend-beside", 800);
        window.findChild<QPushButton*>(QStringLiteral("mendBeside"))->click();
        session.undoStack().undo();
        session.undoStack().undo();
        (void)measured();
        mend.setPose(run.plan.find("pose-right-arms-crossed") >= 0 ? run.plan.find("pose-right-arms-crossed")
                                                                   : run.plan.find("pose-arms-crossed"),
                     100); // something got worse there
        (void)measured();
        shot("state-mend-worse", 800);
        mend.setPose(run.faults.empty() ? 0 : mend.told()->motion, mend.told()->peak);
        (void)measured();
        window.findChild<QPushButton*>(QStringLiteral("brushAdd"))->click();
        settle(400);
        const QPoint middle = page->viewport()->rect().center();
        QTest::mouseMove(page->viewport(), middle);
        shot("state-mend-weights", 400);
        QTest::mousePress(page->viewport(), Qt::LeftButton, {}, middle);
        for (int i = 1; i < 12; ++i) {
            QTest::mouseMove(page->viewport(), middle + QPoint(3 * i, 2 * i));
            settle(20);
        }
        shot("state-mend-stroking", 300);
        QTest::mouseRelease(page->viewport(), Qt::LeftButton, {}, middle + QPoint(33, 22));
        (void)measured();
        shot("state-mend-stroked", 300);
        window.findChild<QPushButton*>(QStringLiteral("brushAdd"))->click();
        Theme::apply(true, 1);
        page->restyle();
        shot("state-mend-night", 600);
        Theme::apply(false, 2);
        page->restyle();
        shot("state-mend-200", 900);
        window.showPage(window.intake());
        session.build().selectCheck(0);
        shot("state-intake-200", 900);
        Theme::apply(false, 1);
    };
    // The show's own clips: the demo's captures stand in for them.
    const auto pictureTheShow = [&](bool all) {
        const QDir demo(QFileInfo(QString::fromLocal8Bit(argv[1])).dir().filePath(QStringLiteral("../..")));
        session.exposure().setPlaces({demo.filePath(QStringLiteral("long-limbed.bvh")),
                                      demo.filePath(QStringLiteral("badger-postmaster.bvh"))});
        (void)QTest::qWaitFor([&] { return session.exposure().exposure() && !session.exposure().counting(); },
                              60000);
        window.showPage(window.planPage());
        window.planPage()->showPane(PlanPage::Show);
        session.exposure().findMeetings();
        (void)QTest::qWaitFor([&] { return session.exposure().meetings().has_value(); }, 60000);
        shot("plan-show", 800);
        if (!all)
            return;
        window.showPage(window.review());
        for (const Fault& f : session.run().run()->faults)
            if (const auto use = session.exposure().ofFault(f.signs.front()); use && use->past.frames > 0) {
                session.run().showFinding(f.signs.front());
                break;
            }
        shot("review-show", 1500);
    };
    // Every character of a log that holds more than one: the log's path in HOBBLE_PICTURES_LOG.
    if (argc == 4 && QByteArray(argv[3]) == "wall") {
        session.log().open(qEnvironmentVariable("HOBBLE_PICTURES_LOG"));
        window.showPage(window.logPage());
        window.logPage()->showWholeShow(true);
        shot("log-show-wall", 1500);
        return 0;
    }
    // Where one begins: what the others were opened for, they are remembered for.
    const auto pictureTheStart = [&](bool all) {
        const QDir demo(QFileInfo(QString::fromLocal8Bit(argv[1])).dir().filePath(QStringLiteral("../..")));
        for (const char* name : {"pack-goat.glb", "lighthouse-newt.glb", "builds/3/badger-postmaster.glb"}) {
            session.build().open(demo.filePath(QLatin1String(name)));
            const std::string path = demo.filePath(QLatin1String(name)).toStdString();
            (void)QTest::qWaitFor(
                [&] { return session.build().build() && session.build().build()->source == path; }, 60000);
            if (!waitForRun(session))
                return false;
        }
        Session fresh;
        MainWindow first(&fresh);
        window.hide();
        first.show();
        fresh.log().open(logFile);
        (void)QTest::qWaitFor([&] { return fresh.log().openDefects() > 0; }, 60000);
        const auto of = [&](const char* name) {
            settle(800);
            QGuiApplication::primaryScreen()
                ->grabWindow(first.winId())
                .save(folder + QLatin1Char('/') + QString::fromLatin1(name) + QStringLiteral(".png"));
        };
        of("start");
        if (!all)
            return true;
        Theme::apply(true);
        first.intake()->findChild<QWidget*>(QStringLiteral("start"))->hide();
        first.intake()->findChild<QWidget*>(QStringLiteral("start"))->show();
        of("start-night");
        Theme::apply(false, 2);
        first.intake()->findChild<QWidget*>(QStringLiteral("start"))->hide();
        first.intake()->findChild<QWidget*>(QStringLiteral("start"))->show();
        of("start-200");
        return true;
    };
    if (argc == 4 && QByteArray(argv[3]) == "start")
        return pictureTheStart(true) ? 0 : 1;
    if (argc == 4 && QByteArray(argv[3]) == "show") {
        pictureTheShow(true);
        session.exposure().tellLog();
        window.showPage(window.logPage());
        shot("log-show", 1500);
        Theme::apply(true);
        window.showPage(window.review());
        shot("review-show-night", 1500);
        return 0;
    }
    if (argc == 4 && QByteArray(argv[3]) == "mend") {
        pictureMend(true);
        return 0;
    }
    if (argc == 4 && QByteArray(argv[3]) == "compare") {
        pictureCompare(true);
        return 0;
    }
    // What the team took for good, behind the strips.
    if (argc == 4 && QByteArray(argv[3]) == "reference") {
        for (const BuildState& b : session.build().builds())
            if (b.build.number == 2)
                session.log().setReference(b.build.id);
        window.showPage(window.intake());
        window.findChild<QPushButton*>(QStringLiteral("intakeBuilds"))->click();
        shot("state-reference-builds", 800);
        window.showPage(window.review());
        window.findChild<QPushButton*>(QStringLiteral("goodBehind"))->click();
        shot("state-reference", 1500);
        return 0;
    }
    if (argc == 4 && QByteArray(argv[3]) == "log") {
        pictureTheLog();
        return 0;
    }
    auto find = [&](const char* motion, Kind kind) {
        const auto& f = session.run().run()->findings;
        for (int i = 0; i < int(f.size()); ++i)
            if (f[i].kind == kind && session.plan().plan().motions[f[i].motion].id == motion)
                return i;
        return 0;
    };
    auto log = [&](const char* motion, Kind kind, const char* view) {
        const int f = find(motion, kind);
        session.run().showFinding(f);
        settle(500);
        for (ViewFrom from : kViewsFrom)
            if (view && QLatin1String(view) == QLatin1String(idOf(from)))
                window.review()->viewport()->lookFrom(from);
        settle(400);
        window.review()->logFinding(f);
        settle(300);
    };
    if (argc == 4)
        shot("first-sight");
    // Laid over the build before it, only what changed.
    auto* changed = window.findChild<QPushButton*>(QStringLiteral("onlyChanged"));
    if (changed->isEnabled()) {
        changed->click();
        session.run().setPose(-1, 0);
        window.review()->stepMotion(1);
        if (argc == 4)
            shot("compared");
        changed->click();
    }
    window.review()->viewport()->setColouring(Colouring::Own);
    window.review()->goNeutral();
    settle(300);
    window.review()->viewport()->frameAll();
    shot("whole-character");
    window.review()->viewport()->setColouring(Colouring::Strain);
    session.run().showFinding(0);
    settle(800);
    shot("review");
    // Pressed on the skin: what moves this?
    for (std::size_t m = 0; m < session.plan().plan().motions.size(); ++m)
        if (session.plan().plan().motions[m].id == "left-hip-front") {
            window.review()->strips()->reveal(int(m));
            session.run().setPose(int(m), 80);
        }
    settle(500);
    window.review()->viewport()->frameJoint(session.run().joint());
    settle(600);
    const Vec3d spot = session.run().view().frame()->jointPosition[session.run().joint()].cast<double>();
    Viewport* view = window.review()->viewport();
    QTest::mouseClick(view, Qt::LeftButton, {}, view->project(spot).toPoint());
    shot("what-moves-this");
    if (auto* close = window.findChild<QPushButton*>(QStringLiteral("spotClose")))
        close->click();
    session.run().showFinding(0);
    settle(600);
    Limits looser = session.run().limits();
    looser.general[Kind::Stretch] = {1.6, 1.8, 2.4, 3.2};
    window.showLimits();
    session.run().setLimits(looser);
    if (!waitForRun(session))
        return 1;
    QDialog* limits = window.findChild<QDialog*>(QStringLiteral("limits"));
    limits->move(240, 70);
    settle(300);
    QGuiApplication::primaryScreen()->grabWindow(0).save(folder + QStringLiteral("/limits.png"));
    limits->close();
    session.undoStack().undo();
    if (!waitForRun(session))
        return 1;
    // Intake of the first build, which has most to say of it.
    const QString opened = QString::fromStdString(session.build().subject()->character->source);
    session.build().open(QFileInfo(opened).dir().filePath(QStringLiteral("../1/badger-postmaster.glb")));
    if (!waitForRun(session))
        return 1;
    window.showPage(window.intake());
    session.build().selectCheck(0);
    settle(900);
    shot("intake");
    if (argc == 4) {
        window.intake()->togglePassed();
        window.intake()->showBuilds();
        session.build().selectCheck(4);
        shot("intake-builds-passed");
        window.intake()->togglePassed();
        window.intake()->showLimits();
        settle(400);
        QGuiApplication::primaryScreen()->grabWindow(0).save(folder + QStringLiteral("/intake-limits.png"));
        window.findChild<QDialog*>(QStringLiteral("intakeLimits"))->close();
    }
    window.intake()->showJoints();
    session.build().selectCheck(-1);
    settle(700);
    QTest::mouseClick(window.intake()->viewport(), Qt::LeftButton, {},
                      window.intake()
                          ->viewport()
                          ->project(session.build()
                                        .neutral()
                                        ->jointPosition[static_cast<std::size_t>(
                                            session.build().subject()->character->skeleton.find("forearm.L"))]
                                        .cast<double>())
                          .toPoint());
    settle(700);
    shot("intake-joints");
    window.showPage(window.review());
    session.build().open(opened);
    if (!waitForRun(session))
        return 1;
    session.run().showFinding(0);
    settle(500);
    log("left-elbow-flex", Kind::Squash, nullptr);
    pictureTheLog();
    window.showPage(window.review());
    window.review()->stage()->marking()->setTool(MarkTool::Brush);
    session.run().showFinding(find("left-hip-front", Kind::Stretch));
    settle(800);
    const QPoint at =
        view->project(session.run().view().frame()->jointPosition[session.run().joint()].cast<double>())
            .toPoint();
    QTest::mouseClick(view, Qt::LeftButton, {}, at);
    QTest::mouseClick(view, Qt::LeftButton, {}, at + QPoint(30, 10));
    QTest::mouseMove(view, at + QPoint(30, 10));
    shot("marking");
    window.review()->stage()->marking()->clear();
    window.review()->stage()->marking()->setTool(MarkTool::None);
    session.run().selectFinding(-1);
    session.run().showFinding(find("right-elbow-flex", Kind::Stretch));
    settle(500);
    window.review()->showChart();
    settle(300);
    if (auto* chart = window.findChild<QDialog*>(QStringLiteral("chartDialog"))) {
        chart->grab().save(folder + QStringLiteral("/chart.png"));
        chart->close();
    }
    // The plan: a joint in hand with its arcs; a pose dragged; a clip of another body.
    PoseDesk* desk = &session.pose();
    const auto show = [&](const char* motion) {
        window.planPage()->motions()->setCurrentIndex(
            window.planPage()->motions()->model()->index(0, 0)); // so that choosing it again is a change
        auto* model = static_cast<PlanModel*>(window.planPage()->motions()->model());
        window.planPage()->motions()->setCurrentIndex(model->indexOf(session.plan().plan().find(motion)));
        settle(700);
    };
    window.showPage(window.planPage());
    settle(1500); // the shelf's thumbnails
    show("left-shoulder-raise");
    shot("plan");
    if (argc == 4) {
        show("pose-sit");
        desk->selectJoint(-1);
        shot("plan-sit");
    }
    window.planPage()->showPane(PlanPage::Clips);
    desk->openClip(QFileInfo(opened).dir().filePath(QStringLiteral("../../long-limbed.bvh")));
    if (!QTest::qWaitFor([&] { return desk->clip() && !session.jobs().busy(); }, 30000))
        return 1;
    desk->selectJoint(-1);
    window.planPage()->viewport()->frameAll();
    auto* frames = window.findChild<ClipStrip*>(QStringLiteral("clipStrip"));
    QTest::mouseClick(frames, Qt::LeftButton, {}, QPoint(frames->width() * 45 / 100, frames->height() / 2));
    shot("plan-clip", 900);
    if (argc == 4) {
        window.findChild<QPushButton*>(QStringLiteral("clipToPlan"))->click();
        window.planPage()->showPane(PlanPage::Versions);
        session.plan().setRange("left-elbow-flex", 120, true);
        shot("plan-versions", 900);
        Variant fed;
        fed.name = "well fed";
        for (const char* part : {"body", "coat", "buttons", "strap"})
            fed.shapes.push_back({part, "well fed", 1});
        Variant bare;
        bare.name = "without the coat";
        bare.partsOff = {"coat", "buttons", "strap"};
        session.build().setVariants({fed, bare});
        window.planPage()->showPane(PlanPage::Variants);
        session.run().testVariants();
        (void)QTest::qWaitFor([&] { return session.run().variantResults().size() == 3; }, 120000);
        session.build().wear(0);
        if (!waitForRun(session))
            return 1;
        shot("plan-variants", 900);
        session.build().wear(-1);
        if (!waitForRun(session))
            return 1;
        session.undoStack().clear();
    }
    pictureMend(false);
    pictureCompare(false);
    window.showPage(window.review());
    if (argc == 3) {
        pictureTheShow(false);
        return pictureTheStart(false) ? 0 : 1;
    }

    window.findChild<QPushButton*>(QStringLiteral("editRoster"))->click();
    shot("roster");
    window.findChild<QPushButton*>(QStringLiteral("rosterDone"))->click();
    window.showPage(window.review());
    const auto change = [&](auto&& what) { window.review()->stage()->changeShown(what); };
    window.findChild<QPushButton*>(QStringLiteral("worstFirst"))->click();
    view->setColouring(Colouring::Weight);
    change([](Shown& x) { x.wire = true; });
    shot("weights-wire");
    change([](Shown& x) { x = Shown{}; });
    session.run().showFinding(find("left-shoulder-raise", Kind::PokeThrough));
    view->setColouring(Colouring::PokeThrough);
    shot("poke-through");
    session.run().showFinding(find("right-elbow-flex", Kind::Stretch));
    view->setColouring(Colouring::Pinch);
    change([](Shown& x) {
        x.isolation = Isolation::Limb;
        x.ghost = Ghost::Neutral;
    });
    shot("limb-ghost-pinch");
    change([](Shown& x) {
        x = Shown{};
        x.isolation = Isolation::Region;
        x.smooth = true;
    });
    view->setColouring(Colouring::Roughness);
    shot("region-smooth-roughness");
    change([](Shown& x) { x = Shown{}; });
    view->setColouring(Colouring::Strain);
    QTest::keyClick(&window, Qt::Key_Question);
    settle(300);
    if (auto* keys = window.findChild<QDialog*>(QStringLiteral("keys"))) {
        keys->grab().save(folder + QStringLiteral("/keys.png"));
        keys->close();
    }
    Theme::apply(false, 1.5);
    shot("text-150");
    Theme::apply(true, 1);
    window.review()->restyle();
    session.build().open(QStringLiteral("/nowhere/missing.glb"));
    shot("night-and-an-error");
    Theme::apply(false, 2);
    shot("text-200");
    return 0;
}
