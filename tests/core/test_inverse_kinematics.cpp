// Inverse kinematics: what a body can reach is reached, within its ranges and the way its joints bend; what
// it cannot is said.
#include "core/pose/inverse_kinematics.h"
#include "io/character_read.h"
#include "support/suite.h"

#include <QTest>
#include <random>

using namespace hobble;

class TestInverseKinematics : public QObject {
    Q_OBJECT

    Character badger_;
    std::vector<JointRole> roles_;
    std::vector<JointRange> ranges_;

    int joint(const char* name) const { return badger_.skeleton.find(name); }
    Vec3d place(const Pose& p, int j) const {
        return worldTransforms(badger_.skeleton, p)[std::size_t(j)].translation();
    }

    // A pose with every joint of the limb somewhere within its range.
    Pose somewhere(const std::vector<double>& willing, std::mt19937& random) const {
        Pose pose = Pose::neutral(badger_.skeleton);
        std::uniform_real_distribution<double> share(0.05, 0.85);
        for (std::size_t j = 0; j < pose.turn.size(); ++j) {
            const JointRange& r = ranges_[j];
            if (willing[j] <= 0 || !r.known)
                continue;
            Vec3d a;
            for (int k = 0; k < 3; ++k)
                a[k] = r.least[std::size_t(k)] +
                       share(random) * (r.most[std::size_t(k)] - r.least[std::size_t(k)]);
            pose.turn[j] = within(r, turnOf(r, a));
        }
        return pose;
    }

private slots:
    void initTestCase() {
        auto c = readCharacter(HOBBLE_DEMO_DIR "/badger-postmaster.glb");
        QVERIFY2(c, c ? "" : c.error().c_str());
        badger_ = std::move(*c);
        roles_ = guessRoles(badger_);
        ranges_ = jointRanges(badger_, roles_, defaultPlan(badger_, roles_));
    }

    void reachesWhatCanBeReached_data() {
        QTest::addColumn<QString>("end");
        for (const char* end : {"hand.L", "hand.R", "foot.L", "foot.R", "head"})
            QTest::newRow(end) << QString::fromLatin1(end);
    }

    void reachesWhatCanBeReached() {
        QFETCH(QString, end);
        const int j = joint(end.toUtf8().constData());
        ReachSettings settings;
        settings.willing = willingFor(badger_, roles_, j, false);
        settings.within = 5e-4;
        std::mt19937 random(7);
        int reached = 0, steps = 0;
        double worst = 0;
        constexpr int kTries = 100;
        for (int i = 0; i < kTries; ++i) {
            const Vec3d wanted = place(somewhere(settings.willing, random), j);
            const Reach r = reach(badger_, roles_, ranges_, Pose::neutral(badger_.skeleton),
                                  {{j, wanted, false}}, settings);
            reached += r.reached;
            steps += r.steps;
            worst = std::max(worst, r.farthest);
            QCOMPARE(r.reached,
                     (place(r.pose, j) - wanted).norm() <= settings.within * badger_.extent() * 1.001);
            for (std::size_t k = 0; k < r.pose.turn.size(); ++k)
                QVERIFY2(beyond(ranges_[k], r.pose.turn[k]) < 0.01 || settings.willing[k] <= 0,
                         badger_.skeleton.name[k].c_str());
        }
        qInfo("%s: %d of %d reached, %.1f steps on the mean, the worst misses by %.1f mm", qPrintable(end),
              reached, kTries, double(steps) / kTries, 1000 * worst);
        QVERIFY(reached >= 95);
    }

    // With shoulder and elbow only, the elbow's angle is the triangle's.
    void elbowByTheLawOfCosines() {
        const int shoulder = joint("upper_arm.L"), elbow = joint("forearm.L"), hand = joint("hand.L");
        ReachSettings settings;
        settings.willing.assign(roles_.size(), 0);
        settings.willing[std::size_t(shoulder)] = settings.willing[std::size_t(elbow)] = 1;
        const Pose neutral = Pose::neutral(badger_.skeleton);
        const Vec3d s = place(neutral, shoulder);
        const double a = (place(neutral, elbow) - s).norm(),
                     b = (place(neutral, hand) - place(neutral, elbow)).norm();
        const Vec3d way = (place(neutral, hand) - s).normalized();
        for (double share : {0.6, 0.75, 0.9}) {
            const Vec3d wanted = s + share * (a + b) * way;
            const Reach r = reach(badger_, roles_, ranges_, neutral, {{hand, wanted, false}}, settings);
            QVERIFY2(r.reached, qPrintable(QString::number(r.farthest)));
            const double d = share * (a + b);
            const double expected = degrees(std::acos((a * a + b * b - d * d) / (2 * a * b)));
            const Vec3d toShoulder = place(r.pose, shoulder) - place(r.pose, elbow),
                        toHand = place(r.pose, hand) - place(r.pose, elbow);
            const double found = degrees(std::acos(toShoulder.normalized().dot(toHand.normalized())));
            QVERIFY2(std::abs(found - expected) < 0.5, qPrintable(QString::number(found - expected)));
        }
    }

    void outOfReachIsSaid() {
        const int shoulder = joint("upper_arm.L"), hand = joint("hand.L");
        ReachSettings settings;
        settings.willing = willingFor(badger_, roles_, hand, false);
        settings.willing[std::size_t(joint("collarbone.L"))] = 0;
        const Pose neutral = Pose::neutral(badger_.skeleton);
        const Vec3d s = place(neutral, shoulder);
        const double length = (place(neutral, joint("forearm.L")) - s).norm() +
                              (place(neutral, hand) - place(neutral, joint("forearm.L"))).norm();
        const Vec3d way = (place(neutral, hand) - s).normalized();
        const Reach r =
            reach(badger_, roles_, ranges_, neutral, {{hand, s + 2 * length * way, false}}, settings);
        QVERIFY(!r.reached);
        QVERIFY2(std::abs(r.farthest - length) < 0.03 * length,
                 qPrintable(QString::number(r.farthest / length)));
        // a place behind the back that the ranges forbid: as near as they let, and the elbow has not broken
        const Vec3d behind = place(neutral, joint("chest")) - Vec3d(-0.1, 0, 0.5);
        const Reach back = reach(badger_, roles_, ranges_, neutral, {{hand, behind, false}}, settings);
        QVERIFY(!back.reached);
        QVERIFY(!back.atLimit.empty());
    }

    void kneesBendForwardOnly() {
        const int foot = joint("foot.L"), knee = joint("shin.L");
        ReachSettings settings;
        settings.willing = willingFor(badger_, roles_, foot, false);
        const BodyFrame body = bodyFrame(badger_, roles_);
        const Pose neutral = Pose::neutral(badger_.skeleton);
        for (double lift : {0.02, 0.06, 0.1}) {
            const Reach r = reach(badger_, roles_, ranges_, neutral,
                                  {{foot, place(neutral, foot) + lift * body.up, true}}, settings);
            QVERIFY(r.reached);
            const Vec3d middle = 0.5 * (place(r.pose, joint("thigh.L")) + place(r.pose, foot));
            QVERIFY2((place(r.pose, knee) - middle).dot(body.forward) > 0, qPrintable(QString::number(lift)));
            // the foot keeps the way it is turned
            const auto before = worldTransforms(badger_.skeleton, neutral),
                       after = worldTransforms(badger_.skeleton, r.pose);
            QVERIFY(degrees(rotationOf(before[std::size_t(foot)])
                                .angularDistance(rotationOf(after[std::size_t(foot)]))) < 25);
        }
    }

    void severalPinsAtOnce() {
        const int head = joint("head"), left = joint("hand.L"), right = joint("hand.R");
        ReachSettings settings;
        settings.willing = willingFor(badger_, roles_, head, false);
        for (int end : {left, right}) {
            const auto more = willingFor(badger_, roles_, end, false);
            for (std::size_t j = 0; j < more.size(); ++j)
                settings.willing[j] = std::max(settings.willing[j], more[j]);
        }
        settings.within = 1e-3;
        const Pose neutral = Pose::neutral(badger_.skeleton);
        const BodyFrame body = bodyFrame(badger_, roles_);
        const Reach r = reach(badger_, roles_, ranges_, neutral,
                              {{head, place(neutral, head) + 0.05 * body.forward - 0.01 * body.up, false},
                               {left, place(neutral, left), false},
                               {right, place(neutral, right), false}},
                              settings);
        QVERIFY2(r.reached, qPrintable(QString::number(r.farthest)));
    }

    // Ranges: taken apart and put together again; the nearest within is within.
    void ranges() {
        std::mt19937 random(11);
        std::uniform_real_distribution<double> any(-150, 150);
        int known = 0;
        for (const JointRange& r : ranges_) {
            if (!r.known)
                continue;
            ++known;
            for (int i = 0; i < 20; ++i) {
                const Vec3d angles(any(random), any(random) / 2, any(random));
                if (std::hypot(angles[0], angles[1]) > 170)
                    continue;
                const Quat q = turnOf(r, angles);
                QVERIFY(turnOf(r, anglesIn(r, q)).angularDistance(q) < 1e-6);
                const Quat in = within(r, q);
                QVERIFY(beyond(r, in) < 1e-3);
                QVERIFY(std::abs(beyond(r, q) - degrees(q.angularDistance(in))) < 1e-6);
            }
            QVERIFY(beyond(r, Quat::Identity()) == 0);
        }
        QVERIFY(known > 40);
        // what the plan says is what the range is
        const Plan plan = defaultPlan(badger_, roles_);
        const int flex = plan.find("left-elbow-flex");
        const Motion& m = plan.motions[std::size_t(flex)];
        const JointRange& r = ranges_[std::size_t(m.turns[0].joint)];
        QVERIFY(beyond(r, poseAt(badger_.skeleton, m, m.limit()).turn[std::size_t(m.turns[0].joint)]) < 0.01);
        QVERIFY(
            std::abs(
                beyond(r, poseAt(badger_.skeleton, m, m.limit() + 20).turn[std::size_t(m.turns[0].joint)]) -
                20) < 0.1);
    }
};

HOBBLE_TEST(TestInverseKinematics)
#include "test_inverse_kinematics.moc"
