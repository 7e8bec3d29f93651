// What is guessed of strangers: roles, sides and limbs against what they are, tuned and untuned apart.
#include "support/suite.h"
#include "zoo/score.h"
#include "zoo/ways.h"

#include <QTest>

using namespace hobble;
using namespace hobble::zoo;

class TestZoo : public QObject {
    Q_OBJECT

private slots:
    void isLargeEnough() {
        QVERIFY(bodies().size() >= 12);
        QVERIFY(conventions().size() >= 30);
    }

    // A chain of two thousand joints under names that say nothing: whatever it is taken for, never surely.
    void manyJointsOfNobody() {
        Body body{"worm", {}};
        for (int j = 0; j < 2000; ++j)
            body.bones.push_back(
                {j - 1, Vec3d(0, 0.01 * j, 0), Role::Unknown, Side::Middle, false, 0, -1, 0.01});
        const Character c = characterOf(body, {"numbers", 10, 1, -1, "", "", 0});
        const auto roles = guessRoles(c);
        QCOMPARE(roles.size(), std::size_t(2000));
        for (const JointRole& r : roles)
            QVERIFY2(r.confidence <= 0.6f && r.side == Side::Middle, nameOf(r.role));
    }

    // What holds skin is tested, whatever it is called.
    void controlsThatHoldSkinAreJoints() {
        for (const Convention& v : conventions())
            if (v.name.rfind("controls", 0) == 0)
                for (const Body& body : bodies()) {
                    const Character c = characterOf(body, v);
                    const auto roles = guessRoles(c);
                    for (std::size_t j = 0; j < body.bones.size(); ++j)
                        if (body.bones[j].radius > 0)
                            QVERIFY2(roles[j].role != Role::Control && roles[j].role != Role::End,
                                     c.skeleton.name[j].c_str());
                }
    }

    // Every motion of every body's plan, posed: the skin goes the way the motion is called, however the body
    // stands in its bind pose; and no joint that moves skin is left out.
    void motionsGoAsTheyAreCalled_data() {
        QTest::addColumn<QString>("pose");
        for (const std::string& pose : bindPoses())
            QTest::newRow(pose.c_str()) << QString::fromStdString(pose);
    }
    void motionsGoAsTheyAreCalled() {
        QFETCH(QString, pose);
        Ways all;
        for (const Body& body : bodies())
            if (body.name != "snake" ||
                (pose != "lying" && pose != "z up")) // it has no sides: nothing tells how it lies
                all.add(waysOf(inBindPose(body, pose.toStdString()), conventions().front()));
        QVERIFY(all.asked > 900);
        for (const std::string& w : all.wrong)
            qWarning("%s", w.c_str());
        QVERIFY2(all.share() >= 0.995, qPrintable(QString::number(all.share())));
        QVERIFY2(all.plannedShare() >= 0.995, qPrintable(QString::number(all.plannedShare())));
        QVERIFY2(all.leastCoverage >= 0.98, qPrintable(QString::number(all.leastCoverage)));
    }

    // Whatever the names: what is not known is turned all the same.
    void nothingIsLeftOut() {
        for (const Convention& v : conventions())
            for (const Body& body : bodies()) {
                const Ways ways = waysOf(body, v);
                QVERIFY2(ways.leastCoverage >= 0.95,
                         qPrintable(QString::fromStdString(body.name + ", " + v.name + ": ") +
                                    QString::number(ways.leastCoverage)));
            }
    }

    // What has been reached; never to fall below it.
    void rolesAreGuessed() {
        const ZooScore s = scoreAll();
        const auto least = [](const char* what, double value, double reached) {
            QVERIFY2(value >= reached,
                     qPrintable(QStringLiteral("%1 %2").arg(QLatin1String(what)).arg(value)));
        };
        least("roles, tuned", s.tuned.role(), 0.985);
        least("roles, untuned", s.untuned.role(), 0.985);
        least("limbs, tuned", s.tuned.limb(), 0.995);
        least("limbs, untuned", s.untuned.limb(), 0.995);
        least("sides, tuned", s.tuned.side(), 0.999);
        least("sides, untuned", s.untuned.side(), 0.99);
        least("right of those said to be sure", s.untuned.whenSure(), 0.99);
    }
};

HOBBLE_TEST(TestZoo)
#include "test_zoo.moc"
