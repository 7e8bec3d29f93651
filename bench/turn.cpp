// hobble-turn FILE [SECONDS]: how many pictures a second a heavy character's view shows while it turns and
// while its pose changes, drawn coarser; the peer, in the same window, is the time of a picture drawn whole.
// Run under a display (Xvfb will do); docs/performance.md.
#include "app/main_window.h"
#include "app/theme.h"
#include "pictures_per_second.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QStandardPaths>
#include <QTest>

#include <cstdio>

using namespace hobble;

int main(int argc, char** argv) {
    QStandardPaths::setTestModeEnabled(true);
    Viewport::requestOpenGl();
    QApplication app(argc, argv);
    QApplication::setOrganizationName(QStringLiteral("HobbleTurn"));
    if (argc < 2)
        return 2;
    const double seconds = argc > 2 ? std::atof(argv[2]) : 6;
    Theme::apply(false);
    Session session;
    MainWindow window(&session);
    window.show();
    if (!QTest::qWaitForWindowExposed(&window) || !window.review()->viewport())
        return 1;
    window.showPage(window.review());
    Viewport* view = window.review()->viewport();
    session.build().open(QString::fromLocal8Bit(argv[1]));
    if (!QTest::qWaitFor([&] { return session.build().subject() && view->view()->frame(); }, 600000))
        return 1;
    session.jobs().cancel(); // the run
    if (!QTest::qWaitFor([&] { return !session.jobs().busy(); }, 600000))
        return 1;
    window.showPage(window.review());
    const auto turn = [&](int i) {
        Camera camera = view->camera();
        camera.yaw += 0.01 * (i / 40 % 2 ? 1 : -1);
        view->setCamera(camera, false);
    };
    if (!QTest::qWaitFor([&] { return turn(1), view->drewStandIn(); }, 600000))
        return 1;
    const auto perSecond = [&](const auto& does) { return bench::picturesPerSecond(view, seconds, does); };
    const auto& c = *session.build().subject()->character;
    std::printf("%zu triangles, viewport %d x %d\n\n| | pictures a second |\n|---|---|\n", c.triangles.size(),
                view->width(), view->height());
    std::printf("| turning the view, drawn coarser | %.1f |\n", perSecond(turn));
    const int motion = 0;
    const double limit = session.plan().plan().motions[0].limit();
    int poses = 0; // pictures of another pose than the one before
    double seen = -1;
    const auto posed = QObject::connect(view, &Viewport::painted, [&] {
        poses += view->poseSeen() != seen;
        seen = view->poseSeen();
    });
    (void)perSecond([&](int i) { session.run().setPose(motion, limit * (0.5 - 0.5 * std::cos(i * 0.05))); });
    QObject::disconnect(posed);
    std::printf("| posing, drawn coarser | %.1f |\n", poses / seconds);
    session.run().start();
    if (!QTest::qWaitFor([&] { return session.jobs().busy(); }, 60000))
        return 1;
    std::printf("| turning the view while the plan runs | %.1f |\n", perSecond(turn));
    const bool stillRuns = session.jobs().busy();
    session.jobs().cancel();
    if (!QTest::qWaitFor([&] { return !session.jobs().busy() && !view->drewStandIn(); }, 600000) ||
        !stillRuns)
        return 1;
    QElapsedTimer clock;
    clock.start();
    constexpr int whole = 5;
    for (int i = 0; i < whole; ++i) {
        turn(i);
        (void)view->picture(); // which is never coarser
    }
    std::printf("| turning the view, drawn whole | %.1f |\n",
                1000.0 * whole / static_cast<double>(clock.elapsed()));
    return 0;
}
