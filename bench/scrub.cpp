// hobble-scrub FILE [SECONDS [OTHER]]: how many pictures a second scrubbing shows in the real window, at 1280
// × 800, and what limits it: the pose, the upload with the drawing, the window's own repainting. The peer is
// the same window turning an unchanged pose. Run under a display (Xvfb will do).
#include "app/main_window.h"
#include "app/theme.h"
#include "pictures_per_second.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QMouseEvent>
#include <QStandardPaths>
#include <QTest>

#include <algorithm>
#include <cstdio>

using namespace hobble;
using bench::picturesPerSecond;

namespace {

double middle(std::vector<double> v) {
    std::nth_element(v.begin(), v.begin() + static_cast<std::ptrdiff_t>(v.size() / 2), v.end());
    return v[v.size() / 2];
}

} // namespace

int main(int argc, char** argv) {
    QStandardPaths::setTestModeEnabled(true);
    Viewport::requestOpenGl();
    QApplication app(argc, argv);
    QApplication::setOrganizationName(QStringLiteral("HobbleScrub"));
    if (argc < 2)
        return 2;
    const double seconds = argc > 2 ? std::atof(argv[2]) : 6;
    Theme::apply(false);
    Session session;
    MainWindow window(&session);
    window.show();
    if (!QTest::qWaitForWindowExposed(&window) || !window.review()->viewport())
        return 1;
    Viewport* view = window.review()->viewport();
    session.build().open(QString::fromLocal8Bit(argv[1]));
    if (!QTest::qWaitFor([&] { return session.run().run() && !session.jobs().busy(); }, 120000))
        return 1;
    session.run().showFinding(0);
    QTest::qWait(1500);
    const auto& c = *session.build().subject()->character;
    std::printf("%zu triangles, %zu vertices, viewport %d x %d\n\n| | pictures a second |\n|---|---|\n",
                c.triangles.size(), c.vertexCount(), view->width(), view->height());

    StripView* strips = window.review()->strips();
    const int motion = session.run().motion();
    const double limit = session.plan().plan().motions[static_cast<std::size_t>(motion)].limit();
    const auto drag = [&](const char* what) {
        strips->reveal(motion);
        const QPoint start = strips->pointOf(motion, 0), end = strips->pointOf(motion, limit);
        QTest::mousePress(strips->viewport(), Qt::LeftButton, {}, (start + end) / 2);
        const double rate = picturesPerSecond(view, seconds, [&](int i) {
            const double t = 0.5 - 0.5 * std::cos(i * 0.05);
            const QPoint at = start + (end - start) * t;
            QMouseEvent move(QEvent::MouseMove, at, strips->viewport()->mapToGlobal(at), Qt::NoButton,
                             Qt::LeftButton, {});
            QApplication::sendEvent(strips->viewport(), &move);
        });
        QTest::mouseRelease(strips->viewport(), Qt::LeftButton, {}, end);
        std::printf("| %s | %.0f |\n", what, rate);
        return rate;
    };
    // Two builds side by side: how often both have been shown in a pose.
    session.compare().againstFile(QString::fromLocal8Bit(argc > 3 ? argv[3] : argv[1]));
    if (QTest::qWaitFor([&] { return session.compare().comparison() && !session.jobs().busy(); }, 120000)) {
        window.showPage(window.comparePage());
        QTest::qWait(1500);
        const Motion* both = session.compare().motionShown();
        for (const bool seam : {false, true}) {
            window.comparePage()->sides()->setSeamShown(seam);
            int step = 0;
            const double rate = picturesPerSecond(window.comparePage()->sides()->now(), seconds, [&](int) {
                if (session.compare().now().arrived() && session.compare().before().arrived())
                    session.compare().setPose(session.compare().motion(),
                                              both->limit() * (0.5 - 0.5 * std::cos(++step * 0.05)));
            });
            std::printf("| two builds, %s | %.0f |\n", seam ? "under the seam" : "side by side", rate);
        }
        window.showPage(window.review());
    }
    // Strokes on the skin of a trial: each a second long, let go and begun anew, as a hand does.
    session.mend().beginFor(
        session.run().run()->faults.empty() ? -1 : session.run().run()->faults.front().signs.front());
    if (QTest::qWaitFor([&] { return session.mend().begun() && !session.jobs().busy(); }, 120000)) {
        MendPage* page = window.mendPage();
        window.showPage(page);
        QTest::qWait(1500);
        for (const auto& [does, what] :
             {std::pair(BrushDoes::Soften, "softening"), {BrushDoes::Add, "giving more"}}) {
            page->brush()->setDoes(does);
            const QPoint middle = page->viewport()->rect().center();
            QElapsedTimer stroke;
            stroke.start();
            QTest::mousePress(page->viewport(), Qt::LeftButton, {}, middle);
            const double rate = picturesPerSecond(page->viewport(), seconds, [&](int i) {
                const QPoint at = middle + QPoint(static_cast<int>(60 * std::sin(i * 0.05)),
                                                  static_cast<int>(40 * std::sin(i * 0.031)));
                if (stroke.elapsed() > 1000) {
                    QTest::mouseRelease(page->viewport(), Qt::LeftButton, {}, at);
                    QTest::mousePress(page->viewport(), Qt::LeftButton, {}, at);
                    stroke.restart();
                }
                QMouseEvent move(QEvent::MouseMove, at, page->viewport()->mapToGlobal(at), Qt::NoButton,
                                 Qt::LeftButton, {});
                QApplication::sendEvent(page->viewport(), &move);
            });
            QTest::mouseRelease(page->viewport(), Qt::LeftButton, {}, middle);
            std::printf("| strokes of a trial, %s (%zu steps by then) | %.0f |\n", what,
                        session.mend().trial().steps.size(), rate);
        }
        window.showPage(window.review());
    }
    view->frameAll(false);
    drag("scrubbing, the whole character in view");
    session.run().showFinding(0);
    QTest::qWait(800);
    drag("scrubbing, close to the joint");
    view->setColouring(Colouring::Roughness);
    drag("the same, coloured by roughness");
    view->setColouring(Colouring::Strain);
    Shown shown;
    shown.ghost = Ghost::Neutral;
    view->setShown(shown);
    drag("the same, with a ghost");
    shown = {};
    shown.smooth = true;
    view->setShown(shown);
    drag("the same, smooth with the true vertices");
    view->setShown({});
    QTest::qWait(300);
    const double turning = picturesPerSecond(view, 3, [&](int i) {
        Camera camera = view->camera();
        camera.yaw += 0.01 * ((i % 2) ? 1 : -1);
        view->setCamera(camera, false);
    });
    std::printf("| turning the view, the pose unchanged | %.0f |\n\n", turning);

    PoseRequest r;
    r.subject = session.build().subject();
    r.motion = motion;
    for (const JointTurn& t : session.plan().plan().motions[static_cast<std::size_t>(motion)].turns)
        r.joints.push_back(t.joint);
    std::vector<double> posing;
    for (int i = 0; i < 40; ++i) {
        r.at = limit * i / 40;
        r.pose = poseAt(c.skeleton, session.plan().plan().motions[static_cast<std::size_t>(motion)], r.at);
        QElapsedTimer clock;
        clock.start();
        computeFrame(r);
        posing.push_back(static_cast<double>(clock.nsecsElapsed()) / 1e6);
    }
    std::vector<double> redraws, reads, paints;
    for (int i = 0; i < 20; ++i) {
        QElapsedTimer clock;
        clock.start();
        view->picture();
        redraws.push_back(static_cast<double>(clock.nsecsElapsed()) / 1e6);
        clock.restart();
        strips->viewport()->repaint();
        paints.push_back(static_cast<double>(clock.nsecsElapsed()) / 1e6);
    }
    std::printf(
        "One pose computed: %.1f ms (off the window's thread). Viewport drawn and kept as PNG: %.1f ms. "
        "Strips repainted: %.1f ms.\n",
        middle(posing), middle(redraws), middle(paints));
    return 0;
}
