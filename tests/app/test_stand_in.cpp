// A character too heavy to be drawn anew for every picture: coarser while something moves, whole as soon as
// it rests, of the same form, in the same pose and colours.
#include "app/theme.h"
#include "app/view/viewport.h"
#include "core/deform/deformer.h"
#include "core/pose/motion.h"
#include "io/character_read.h"
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

    // The same as a character of its own goes where the whole one goes, in pose, shape and driver.
    void posedByItselfItIsTheSame() {
        auto read = readCharacter(HOBBLE_DEMO_DIR "/badger-postmaster.glb");
        QVERIFY2(read, read ? "" : read.error().c_str());
        const Subject whole = subjectOf(*read);
        const Character& c = *whole.character;
        const StandIn coarse = standInOf(whole, 12000);
        const Character& k = *coarse.subject->character;
        QCOMPARE(k.triangles.size(), coarse.triangles.size());
        QVERIFY(k.triangles.size() > 8000 && k.vertexCount() < c.vertexCount() / 2);
        QCOMPARE(k.vertexCount(), coarse.fileVertex.size());
        QCOMPARE(k.parts.size(), c.parts.size());
        for (std::size_t t = 0; t < k.triangles.size(); ++t)
            for (int i = 0; i < 3; ++i)
                QCOMPARE(coarse.fileVertex[k.triangles[t][i]], coarse.triangles[t][i]);
        for (std::uint32_t v = 0; v < k.vertexCount(); ++v)
            QCOMPARE(k.partOfVertex(v), c.partOfVertex(coarse.fileVertex[v]));
        const Plan plan = fullPlan(c, whole.roles);
        for (std::size_t m = 0; m < plan.motions.size(); m += 3) {
            const Pose pose = poseAt(c.skeleton, plan.motions[m], plan.motions[m].limit());
            for (Skinning method : {Skinning::Linear, Skinning::DualQuaternion}) {
                std::vector<Vec3> all, some;
                deform(c, pose, method, all);
                deform(k, pose, method, some);
                for (std::uint32_t v = 0; v < k.vertexCount(); ++v)
                    QVERIFY((some[v] - all[coarse.fileVertex[v]]).norm() < 1e-5f);
            }
        }
        Subject nothing;
        nothing.character = std::make_shared<const Character>();
        QVERIFY(standInOf(nothing, 100).fileVertex.empty());
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
        // While the pose changes the coarser mesh is posed by itself, till the pose rests.
        const auto bend = [&](double at) {
            AskedPose asked;
            asked.pose = Pose::neutral(view.subject()->character->skeleton);
            asked.pose.turn.back() = Quat(Eigen::AngleAxisd(radians(at), Vec3d::UnitX()));
            asked.motion = 0;
            asked.at = at;
            view.show(std::move(asked));
        };
        double at = 0;
        int pictures = 0;
        QTRY_VERIFY((bend(at += 0.25), QCoreApplication::processEvents(),
                     pictures += v.drewStandIn() && v.poseSeen() > 1, pictures > 5));
        QTRY_VERIFY(!v.drewStandIn() && v.poseSeen() == at); // it rests
        QVERIFY(view.arrived());
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
