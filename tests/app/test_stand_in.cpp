// A character too heavy to be drawn anew for every picture: coarser while something moves, whole as soon as
// it rests, of the same form, in the same pose and colours.
#include "app/theme.h"
#include "app/view/viewport.h"
#include "picture/stand_in.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QSignalSpy>

using namespace hobble;
using namespace hobble::test;

class TestStandIn : public QObject {
    Q_OBJECT

    static Character heavy() {
        TubeSpec spec;
        spec.sides = 400;
        spec.rings = 600;
        return tube(spec);
    }

private slots:
    void initTestCase() { Theme::apply(false); }

    // The same form by fewer triangles, on the vertices there are.
    void isOfTheSameForm() {
        const Character c = heavy();
        QVERIFY(c.triangles.size() > Viewport::kHeavy);
        const auto coarse = standIn(c, 20000);
        QVERIFY2(coarse.size() > 15000 && coarse.size() < 21000, qPrintable(QString::number(coarse.size())));
        for (const Triangle& t : coarse)
            for (std::uint32_t v : t)
                QVERIFY(v < c.vertexCount());
        for (const auto& [a, b, d] : coarse) { // of a tube: nowhere off its radius, but on its caps
            const Vec3 middle = (c.neutral[a] + c.neutral[b] + c.neutral[d]) / 3;
            const double from = std::hypot(static_cast<double>(middle.x()), static_cast<double>(middle.z()));
            QVERIFY(std::abs(middle.y()) > 0.79f || std::abs(from - 0.1) < 0.002);
        }
        QCOMPARE(standIn(c, c.triangles.size()).size(), c.triangles.size());
        QVERIFY(standIn(Character(), 100).empty());
    }

    void standsInWhileSomethingMoves() {
        PoseView view;
        Viewport v(&view);
        v.resize(600, 500);
        v.show();
        QVERIFY(QTest::qWaitForWindowExposed(&v));
        view.setSubject(std::make_shared<const Subject>(subjectOf(heavy())));
        const auto showNeutral = [&] {
            AskedPose asked;
            asked.pose = Pose::neutral(view.subject()->character->skeleton);
            view.show(std::move(asked));
        };
        showNeutral();
        QSignalSpy painted(&v, &Viewport::painted);
        QTRY_VERIFY(view.frame() && !painted.isEmpty());
        const QImage whole = QImage::fromData(v.picture());
        const auto turn = [&] {
            Camera camera = v.camera();
            camera.yaw += 0.01;
            v.setCamera(camera, false);
        };
        QTRY_VERIFY((turn(), QCoreApplication::processEvents(), v.drewStandIn())); // once it is made
        const qsizetype before = painted.size();
        QTRY_VERIFY(painted.size() > before && !v.drewStandIn()); // and whole again without being asked
        // What it shows while it moves is what it shows at rest, but for its edges.
        turn();
        QCoreApplication::processEvents();
        QVERIFY(v.drewStandIn());
        const QImage moving = v.grab().toImage().convertToFormat(QImage::Format_RGB32);
        QTRY_VERIFY(!v.drewStandIn());
        const QImage resting = v.grab().toImage().convertToFormat(QImage::Format_RGB32);
        QCOMPARE(moving.size(), resting.size());
        int unlike = 0;
        for (int y = 0; y < moving.height(); ++y)
            for (int x = 0; x < moving.width(); ++x)
                unlike += std::abs(qGray(moving.pixel(x, y)) - qGray(resting.pixel(x, y))) > 24;
        QVERIFY2(unlike < 0.01 * moving.width() * moving.height(), qPrintable(QString::number(unlike)));
        QVERIFY(!whole.isNull());
        // The smooth preview waits till it rests, too.
        Shown smooth;
        smooth.smooth = true;
        v.setShown(smooth);
        QTRY_VERIFY((turn(), QCoreApplication::processEvents(), v.drewStandIn()));
        QTRY_VERIFY(!v.drewStandIn());
        v.setShown({});
        // A light one is always drawn whole.
        view.setSubject(std::make_shared<const Subject>(subjectOf(tube())));
        showNeutral();
        QTRY_VERIFY(view.frame() && view.frame()->subject == view.subject());
        turn();
        QCoreApplication::processEvents();
        QVERIFY(!v.drewStandIn());
    }
};

HOBBLE_TEST(TestStandIn)
#include "test_stand_in.moc"
