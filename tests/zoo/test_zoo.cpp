// What is guessed of strangers: roles, sides and limbs against what they are, tuned and untuned apart.
#include "core/character/body.h"
#include "core/character/moved_joint.h"
#include "support/suite.h"
#include "zoo/score.h"
#include "zoo/ways.h"

#include <QTest>

#include <numeric>

using namespace hobble;
using namespace hobble::zoo;

class TestZoo : public QObject {
    Q_OBJECT

    static void goAsTheyAreCalled(const Ways& all, double leastPlanned) {
        for (const std::string& w : all.wrong)
            qWarning("%s", w.c_str());
        QVERIFY2(all.share() >= 0.995, qPrintable(QString::number(all.share())));
        QVERIFY2(all.plannedShare() >= leastPlanned, qPrintable(QString::number(all.plannedShare())));
        QVERIFY2(all.leastCoverage >= 0.98, qPrintable(QString::number(all.leastCoverage)));
    }

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

    // One vertex of a sole that goes with a hand, and one of the crown that goes with a foot: a fault to be
    // found, and no other kind of body.
    void oneStrayVertexMakesNoOtherBody() {
        for (const Convention& names : {conventions()[0], conventions()[7]})
            for (const Body& body : bodies()) {
                Character c = characterOf(body, names);
                const auto before = guessRoles(c);
                std::vector<std::uint32_t> byHeight(c.vertexCount());
                std::iota(byHeight.begin(), byHeight.end(), 0u);
                std::sort(byHeight.begin(), byHeight.end(), [&](std::uint32_t a, std::uint32_t b) {
                    return c.neutral[a].y() < c.neutral[b].y();
                });
                for (const Role end : {Role::Wrist, Role::Elbow, Role::Head, Role::Ankle}) {
                    const auto of = std::find_if(before.begin(), before.end(), [&](const JointRole& r) {
                        return r.role == end && !r.fore && r.movesSkin;
                    });
                    if (of == before.end())
                        continue;
                    const auto joint = static_cast<std::uint16_t>(of - before.begin());
                    const std::uint32_t v = end == Role::Ankle ? byHeight.back() : byHeight.front();
                    Character stray = c;
                    SkinWeights w = c.weights;
                    std::vector<std::uint16_t> joints(w.joint.begin(), w.joint.end());
                    for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i)
                        joints[i] = joint;
                    w.joint = std::move(joints);
                    stray.weights = std::move(w);
                    const auto now = guessRoles(stray);
                    for (std::size_t j = 0; j < now.size(); ++j)
                        QVERIFY2(now[j].role == before[j].role && now[j].fore == before[j].fore,
                                 qPrintable(QStringLiteral("%1: %2 was %3 and is %4")
                                                .arg(QString::fromStdString(body.name),
                                                     QString::fromStdString(c.skeleton.name[j]),
                                                     QLatin1String(nameOf(before[j].role)),
                                                     QLatin1String(nameOf(now[j].role)))));
                    QCOMPARE(bodyFrame(stray, now).quadruped, bodyFrame(c, before).quadruped);
                }
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
        goAsTheyAreCalled(all, 0.995);
    }

    // The same of what else makers do to a skeleton: groups, end markers, twists, muscles, axes, units.
    void changesAreSeenThrough_data() {
        QTest::addColumn<QString>("change");
        for (const std::string& change : changes())
            QTest::newRow(change.c_str()) << QString::fromStdString(change);
    }
    void changesAreSeenThrough() {
        QFETCH(QString, change);
        Ways all;
        for (const Body& body : bodies())
            all.add(waysOf(changed(body, change.toStdString()), conventions().front()));
        QVERIFY(all.asked > 850);
        goAsTheyAreCalled(all, 0.99);
    }
    void rolesAreGuessedUnderChanges() {
        const ZooScore s = scoreChanges(false, 1, 6); // five conventions that nothing was tuned on
        for (const auto& [change, score] : s.byChange) {
            QVERIFY2(score.role() >= 0.95, qPrintable(QString::fromStdString(change) + QLatin1Char(' ') +
                                                      QString::number(score.role())));
            QVERIFY2(score.limb() >= 0.97, qPrintable(QString::fromStdString(change) + QLatin1Char(' ') +
                                                      QString::number(score.limb())));
        }
    }

    // Two bodies in one skeleton are two; one is one, and so is one whose head has a tree of its own.
    void bodiesInOneFile() {
        Body both, headApart;
        for (const Body& body : bodies()) {
            const Character c = characterOf(body, conventions().front());
            QVERIFY2(rootsOfBodies(c, guessRoles(c)).size() <= 1, body.name.c_str());
            if (body.name != "person" && body.name != "dog")
                continue;
            const auto first = static_cast<int>(both.bones.size());
            for (Bone b : body.bones) {
                b.parent += b.parent < 0 ? 0 : first;
                b.at += Vec3d(first > 0 ? 3 : 0, 0, 0);
                both.bones.push_back(b);
            }
            if (body.name == "person")
                headApart = body;
        }
        const Character two = characterOf(both, conventions().front());
        const std::vector<int> roots = rootsOfBodies(two, guessRoles(two));
        QCOMPARE(roots.size(), std::size_t(2));
        for (int r : roots)
            QCOMPARE(two.skeleton.parent[static_cast<std::size_t>(r)], -1);
        for (Bone& b : headApart.bones)
            if (b.role == Role::Head)
                b.parent = -1;
        const Character one = characterOf(headApart, conventions().front());
        QCOMPARE(rootsOfBodies(one, guessRoles(one)).size(), std::size_t(1));
    }

    // Joints that lie on one another are one: for the bones between two, and what a joint's skin blends with.
    void groupsAreNoBones() {
        for (const Body& body : bodies()) {
            const Character plain = characterOf(body, conventions().front()),
                            grouped = characterOf(changed(body, "empty groups"), conventions().front());
            std::vector<int> now;
            for (const std::string& name : plain.skeleton.name)
                now.push_back(grouped.skeleton.find(name));
            QVERIFY(std::all_of(now.begin(), now.end(), [](int j) { return j >= 0; }));
            const auto n = plain.skeleton.size();
            for (int a = 0; a < n; ++a)
                for (int b = 0; b < n; ++b)
                    QCOMPARE(grouped.skeleton.boneDistance(now[static_cast<std::size_t>(a)],
                                                           now[static_cast<std::size_t>(b)]),
                             plain.skeleton.boneDistance(a, b));
            const auto roles = guessRoles(plain), other = guessRoles(grouped);
            for (std::size_t j = 0; j < roles.size(); ++j) {
                const JointRole& r = other[static_cast<std::size_t>(now[j])];
                QCOMPARE(r.role, roles[j].role);
                QCOMPARE(r.side, roles[j].side);
                QCOMPARE(r.digit, roles[j].digit);
                QCOMPARE(r.segment, roles[j].segment);
                QCOMPARE(r.mirror, roles[j].mirror < 0 ? -1 : now[static_cast<std::size_t>(roles[j].mirror)]);
            }
            const Plan plan = defaultPlan(plain, roles), same = defaultPlan(grouped, other);
            QCOMPARE(same.motions.size(), plan.motions.size());
            for (std::size_t i = 0; i < plan.motions.size(); ++i) {
                QCOMPARE(same.motions[i].id, plan.motions[i].id);
                for (std::size_t k = 0; k < plan.motions[i].turns.size(); ++k)
                    QCOMPARE(same.motions[i].turns[k].joint,
                             now[static_cast<std::size_t>(plan.motions[i].turns[k].joint)]);
            }
        }
    }

    // A pivot put right takes its empty group along, so that the two stay one; skin and what hangs below
    // stay.
    void aMovedJointTakesItsGroupAlong() {
        for (const Body& body : bodies()) {
            if (body.name != "person")
                continue;
            Character c = characterOf(changed(body, "empty groups"), conventions().front());
            const auto before = guessRoles(c);
            const int joint = c.skeleton.find("forearm_l"),
                      group = c.skeleton.parent[static_cast<std::size_t>(joint)],
                      hand = c.skeleton.find("hand_l");
            const Vec3d handBefore = c.skeleton.place(hand);
            Transform world = c.skeleton.neutralWorld[static_cast<std::size_t>(joint)];
            world.translation() += Vec3d(0, 0.02, 0.01);
            moveJoint(c, joint, world);
            QVERIFY((c.skeleton.place(group) - world.translation()).norm() < 1e-12);
            QVERIFY((c.skeleton.place(hand) - handBefore).norm() < 1e-12);
            const auto after = guessRoles(c);
            for (std::size_t j = 0; j < before.size(); ++j) {
                QCOMPARE(after[j].role, before[j].role);
                QCOMPARE(after[j].oneWith, before[j].oneWith);
            }
            // what hangs together by locals stands where it is said to stand
            const auto posed = worldTransforms(c.skeleton, Pose::neutral(c.skeleton));
            for (std::size_t j = 0; j < posed.size(); ++j)
                QVERIFY((posed[j].translation() - c.skeleton.neutralWorld[j].translation()).norm() < 1e-9);
        }
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
        const ZooScore s = scoreAll("insect"), insects = scoreAll();
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
        // six legs on one trunk, which no name tells from arms where names say nothing
        least("roles of an insect", insects.byBody.at("insect").role(), 0.91);
    }
};

HOBBLE_TEST(TestZoo)
#include "test_zoo.moc"
