// What follows by itself: keys, the angle that is watched, order, and what the skin makes of it.
#include "core/deform/deformer.h"
#include "core/measure/follow.h"
#include "core/pose/drive.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>

using namespace hobble;
using namespace hobble::test;

class TestDrivers : public QObject {
    Q_OBJECT

    static Driver twist(int source, int joint, double share) {
        Driver d;
        d.name = "twist";
        d.source = source;
        d.joint = joint;
        d.about = d.along = Vec3d::UnitY();
        d.keys = {{-180, -180 * share}, {180, 180 * share}};
        return d;
    }

private slots:
    void keysAreLinearAndHeld() {
        Driver d;
        d.keys = {{10, 0}, {30, 1}, {60, 0.5}};
        QCOMPARE(driverOut(d, -50), 0.0);
        QCOMPARE(driverOut(d, 20), 0.5);
        QCOMPARE(driverOut(d, 30), 1.0);
        QCOMPARE(driverOut(d, 45), 0.75);
        QCOMPARE(driverOut(d, 400), 0.5);
        QVERIFY(std::abs(driverSlope(d) - 0.01) < 1e-12);
        QCOMPARE(driverOut(Driver{}, 5), 0.0);
    }

    // Several poses around a joint: exactly what is asked in each, nothing in neutral, smooth and bounded
    // between, and fading away where no pose was told.
    void posesAreMetExactly() {
        Driver d;
        d.poses = {{turnXyz(90, 0, 0), 1}, {turnXyz(0, 0, 60), -0.5}, {turnXyz(60, 0, 60), 0.8}};
        QVERIFY(preparePoses(d));
        QCOMPARE(d.poses.size(), std::size_t(4)); // and neutral
        for (const DriverPose& p : d.poses) {
            QVERIFY2(std::abs(posesOut(d, p.turn) - p.out) < 1e-9,
                     qPrintable(QString::number(posesOut(d, p.turn))));
            const Quat other(-p.turn.w(), -p.turn.x(), -p.turn.y(), -p.turn.z()); // the same rotation
            QVERIFY(std::abs(posesOut(d, other) - p.out) < 1e-9);
        }
        double before = 0;
        for (double a = 0; a <= 90; a += 1) { // on the way to the first pose
            const double now = posesOut(d, turnXyz(a, 0, 0));
            QVERIFY(std::abs(now - before) < 0.06);
            QVERIFY(now > -0.3 && now < 1.3);
            before = now;
        }
        QVERIFY(std::abs(posesOut(d, turnXyz(0, 175, 0))) < 0.1);
        Driver twice;
        twice.poses = {{turnXyz(30, 0, 0), 1}, {turnXyz(30, 0, 0), 0}};
        QVERIFY(!preparePoses(twice));
        Driver narrow = d; // the same poses, each heard less far
        narrow.poses.erase(narrow.poses.begin());
        narrow.width = 15;
        narrow.pull.clear();
        QVERIFY(preparePoses(narrow));
        QVERIFY(std::abs(posesOut(narrow, turnXyz(45, 0, 0))) < std::abs(posesOut(d, turnXyz(45, 0, 0))));
        QVERIFY(std::abs(posesOut(narrow, turnXyz(90, 0, 0)) - 1) < 1e-9);
    }

    // In a pose: a joint follows where the other stands so, whichever axes brought it there.
    void posesDrive() {
        Character c = tube();
        Driver d;
        d.name = "helper";
        d.source = 1;
        d.joint = 0;
        d.output = Driver::Output::Turn;
        d.along = Vec3d::UnitZ();
        d.poses = {{turnXyz(80, 0, 30), 25}};
        QVERIFY(preparePoses(d));
        c.drivers = {d};
        Pose pose = Pose::neutral(c.skeleton);
        QVERIFY(rotationOf(drive(c, pose).world[0]).angularDistance(rotationOf(c.skeleton.neutralWorld[0])) <
                1e-9);
        pose.turn[1] = turnXyz(80, 0, 30);
        const double turned = degrees(
            rotationOf(drive(c, pose).world[0]).angularDistance(rotationOf(c.skeleton.neutralWorld[0])));
        QVERIFY2(std::abs(turned - 25) < 1e-6, qPrintable(QString::number(turned)));
    }

    // The twist of a swing after a twist is the twist, whatever the swing.
    void twistIsReadThroughSwing() {
        const Vec3d axis = Vec3d(1, 2, -1).normalized();
        for (double twisted : {-170.0, -30.0, 0.0, 45.0, 120.0})
            for (double swung : {0.0, 40.0, 100.0}) {
                const Vec3d side = axis.unitOrthogonal();
                const Quat q = Quat(Eigen::AngleAxisd(radians(swung), side)) *
                               Quat(Eigen::AngleAxisd(radians(twisted), axis));
                QVERIFY2(std::abs(turnAbout(q, axis) - twisted) < 1e-6,
                         qPrintable(QString::number(turnAbout(q, axis))));
            }
        QCOMPARE(turnAbout(Quat(Eigen::AngleAxisd(kPi, axis.unitOrthogonal())), axis), 0.0);
    }

    void circlesAreTakenOut() {
        std::vector<Driver> d{twist(2, 3, 1), twist(1, 2, 1), twist(4, 5, 1), twist(5, 4, 1)};
        for (int i = 0; i < 4; ++i)
            d[i].name = std::to_string(i);
        const auto circular = orderDrivers(d);
        QCOMPARE(circular, (std::vector<std::string>{"2", "3"}));
        QCOMPARE(d.size(), std::size_t(2));
        QCOMPARE(d[0].name, std::string("1")); // drives 2 before 2 drives 3
    }

    // A joint half way that takes half of the roll: the tube's middle turns by half.
    void aDrivenJointTurns() {
        Character c = tube();
        c.skeleton = skeletonOf({{"upper_arm.L", -1, {0, -0.8, 0}},
                                 {"forearm_twist.L", 0, {0, 0, 0}},
                                 {"forearm.L", 0, {0, 0, 0}}});
        std::vector<std::vector<std::pair<int, double>>> weights;
        for (const Vec3& p : c.neutral)
            weights.push_back({{p.y() < -0.2f ? 0 : p.y() > 0.2f ? 2 : 1, 1.0}});
        finish(c, weights);
        c.drivers = {twist(2, 1, 0.5)};
        Pose pose = Pose::neutral(c.skeleton);
        pose.turn[2] = Quat(Eigen::AngleAxisd(radians(80), Vec3d::UnitY()));
        std::vector<Vec3> p;
        deform(c, pose, Skinning::Linear, p);
        for (std::size_t v = 0; v < p.size(); ++v) {
            const double share = c.neutral[v].y() < -0.2f ? 0 : c.neutral[v].y() > 0.2f ? 1 : 0.5;
            const Vec3d expected =
                Eigen::AngleAxisd(radians(80 * share), Vec3d::UnitY()) * c.neutral[v].cast<double>();
            QVERIFY((p[v].cast<double>() - expected).norm() < 1e-5);
        }
        std::vector<char> off{1};
        deform(c, drive(c, pose, &off), Skinning::Linear, p);
        for (std::size_t v = 0; v < p.size(); ++v)
            if (std::abs(c.neutral[v].y()) < 0.19f)
                QVERIFY((p[v] - c.neutral[v]).norm() < 1e-6f);
        const auto follow = followShares(c, 2);
        QCOMPARE(follow[0], 0.f);
        QCOMPARE(follow[1], 0.5f);
        QCOMPARE(follow[2], 1.f);
    }

    // A shape at full weight moves its vertices by its delta, carried by the skinning; both methods agree on
    // a rigid part.
    void aShapeFadesIn() {
        Character c = tube();
        const std::uint32_t v = static_cast<std::uint32_t>(c.vertexCount()) - 1;
        c.parts[0].targets.push_back({"bump", {v}, {Vec3(0.1f, 0, 0)}});
        c.parts[0].targetWeights.push_back(0);
        Driver d;
        d.name = "bump";
        d.source = 1;
        d.about = Vec3d::UnitX();
        d.keys = {{0, 0}, {60, 1}};
        d.output = Driver::Output::Target;
        d.part = d.target = 0;
        c.drivers = {d};
        for (double degrees : {0.0, 30.0, 60.0, 90.0}) {
            Pose pose = Pose::neutral(c.skeleton);
            pose.turn[1] = Quat(Eigen::AngleAxisd(radians(degrees), Vec3d::UnitX()));
            const Vec3d expected =
                pose.turn[1] * (c.neutral[v].cast<double>() + Vec3d(0.1 * std::min(degrees / 60, 1.0), 0, 0));
            for (Skinning method : {Skinning::Linear, Skinning::DualQuaternion}) {
                std::vector<Vec3> p;
                deform(c, pose, method, p);
                QVERIFY((p[v].cast<double>() - expected).norm() < 1e-5);
            }
        }
    }
};

HOBBLE_TEST(TestDrivers)
#include "test_drivers.moc"
