// Roles where names say nothing, or say it in another language; the mirror plane; corrections.
#include "core/character/roles_by_shape.h"
#include "io/character_read.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>

using namespace hobble;
using namespace hobble::test;

class TestRolesByShape : public QObject {
    Q_OBJECT

    static Character cast(const char* name) {
        auto c = readCharacter(std::string(HOBBLE_DEMO_DIR "/") + name + ".glb");
        return c ? *c : Character();
    }
    static std::vector<std::pair<int, int>> pairsOf(const std::vector<JointRole>& roles) {
        std::vector<std::pair<int, int>> out;
        for (int j = 0; j < static_cast<int>(roles.size()); ++j)
            if (roles[j].side == Side::Left && roles[j].mirror >= 0)
                out.push_back({j, roles[j].mirror});
        return out;
    }

private slots:
    void withoutNames_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<double>("share");
        QTest::newRow("biped") << "badger-postmaster" << 0.85;
        QTest::newRow("quadruped") << "pack-goat" << 0.8;
        QTest::newRow("tailed") << "lighthouse-newt" << 0.75;
    }
    // The same skeleton under names that say nothing: how many of the joints that carry skin keep the role
    // (and side) their names give them. Counted over what has a shape: not helpers, lids, lips, brows.
    void withoutNames() {
        QFETCH(QString, name);
        QFETCH(double, share);
        Character c = cast(qPrintable(name));
        const auto named = guessRoles(c);
        for (std::size_t j = 0; j < c.skeleton.name.size(); ++j)
            c.skeleton.name[j] = "b" + std::to_string(j);
        const auto roles = guessRoles(c);
        int asked = 0, same = 0;
        QStringList wrong;
        for (std::size_t j = 0; j < roles.size(); ++j) {
            const Role r = named[j].role;
            if (!named[j].movesSkin || r == Role::Helper || r == Role::Lid || r == Role::Lip ||
                r == Role::Brow || r == Role::Tongue || r == Role::Unknown || r == Role::Control)
                continue;
            ++asked;
            const bool right = roles[j].role == r && roles[j].side == named[j].side;
            same += right;
            if (!right)
                wrong << QStringLiteral("%1 %2 as %3 %4")
                             .arg(nameOf(named[j].side), nameOf(r), nameOf(roles[j].side),
                                  nameOf(roles[j].role));
            QVERIFY(!right || r == Role::Unknown || roles[j].confidence <= 0.6f);
        }
        qInfo("%d of %d: %s", same, asked, qPrintable(wrong.join(", ")));
        QVERIFY2(same >= share * asked, qPrintable(wrong.join(", ")));
    }

    void otherLanguages_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QString>("role");
        QTest::addColumn<QString>("side");
        QTest::newRow("German") << "Oberschenkel_links"
                                << "hip"
                                << "left";
        QTest::newRow("French") << "coude_droit"
                                << "elbow"
                                << "right";
        QTest::newRow("Spanish") << "muñeca_izq"
                                 << "wrist"
                                 << "left";
        QTest::newRow("Italian") << "ginocchio.dx"
                                 << "knee"
                                 << "right";
        QTest::newRow("Portuguese") << "joelho esquerdo"
                                    << "knee"
                                    << "left";
        QTest::newRow("Japanese") << "左足首"
                                  << "ankle"
                                  << "left";
        QTest::newRow("Japanese wrist") << "右手首"
                                        << "wrist"
                                        << "right";
        QTest::newRow("Chinese") << "左大腿"
                                 << "hip"
                                 << "left";
        QTest::newRow("Russian") << "колено_правое"
                                 << "knee"
                                 << "right";
    }
    void otherLanguages() {
        QFETCH(QString, name);
        QFETCH(QString, role);
        QFETCH(QString, side);
        Character c = stickFigure({{"root", -1, {0, 0, 0}}, {name.toStdString(), 0, {0.1, 0, 0}}});
        const auto roles = guessRoles(c);
        QCOMPARE(QString(nameOf(roles[1].role)), role);
        QCOMPARE(QString(nameOf(roles[1].side)), side);
    }

    void planeIsFoundWhereverTheCharacterStands() {
        const Character c = cast("badger-postmaster");
        const auto pairs = pairsOf(guessRoles(c));
        Transform by = Transform::Identity();
        by.translate(Vec3d(3, 1, -2));
        by.rotate(Eigen::AngleAxisd(0.7, Vec3d(0.2, 1, 0.1).normalized()));
        const Character there = moved(c, by);
        for (const auto& known : {pairs, std::vector<std::pair<int, int>>{}}) {
            const MirrorPlane here = findMirrorPlane(c, known), away = findMirrorPlane(there, known);
            QVERIFY(here.found && away.found);
            QVERIFY(std::abs((by.linear() * here.normal).dot(away.normal)) > 0.9999);
            QCOMPARE(here.partner, away.partner);
        }
        // and it pairs as the names do
        const MirrorPlane p = findMirrorPlane(c, {});
        int same = 0;
        for (const auto& [l, r] : pairs)
            same += p.partner[l] == r;
        QVERIFY(same * 10 >= static_cast<int>(pairs.size()) * 9);
    }

    void noPlaneWhereThereIsNone() {
        QVERIFY(!findMirrorPlane(tube(), {}).found);
        Character prop = stickFigure({{"a", -1, {0, 0, 0}},
                                      {"b", 0, {0.3, 0, 0}},
                                      {"c", 1, {0.3, 0.5, 0}},
                                      {"d", 2, {0.3, 0.5, 0.2}},
                                      {"e", 1, {0.9, 0.1, 0.4}}});
        QVERIFY(!findMirrorPlane(prop, {}).found);
        for (const JointRole& r : guessRoles(prop))
            QVERIFY(r.role == Role::Unknown || r.role == Role::Root);
    }

    void corrections() {
        Character c = cast("badger-postmaster");
        auto roles = guessRoles(c);
        int elbow = -1;
        for (int j = 0; j < c.skeleton.size(); ++j)
            if (roles[j].role == Role::Elbow && roles[j].side == Side::Left)
                elbow = j;
        QVERIFY(elbow >= 0);
        c.skeleton.name[elbow] = "thing";
        const auto guessed = guessRoles(c);
        // what it hangs between still says what it is, and that this is a guess
        QCOMPARE(guessed[elbow].role, Role::Elbow);
        QVERIFY(guessed[elbow].confidence <= 0.6f);
        auto corrected = guessRoles(c, {{"thing", {Role::Jaw, Side::Middle}}});
        QCOMPARE(corrected[elbow].role, Role::Jaw);
        QCOMPARE(corrected[elbow].mirror, -1);
        corrected =
            guessRoles(c, {{"thing", {Role::Elbow, Side::Left}}, {"nobody", {Role::Jaw, Side::Middle}}});
        QCOMPARE(corrected[elbow].role, Role::Elbow);
        QCOMPARE(corrected[elbow].confidence, 1.f);
        QCOMPARE(corrected[elbow].mirror, roles[elbow].mirror); // paired by its place
    }

    // What is said of one side holds for the other, and what hangs below is asked again; what a person said
    // stands.
    void aCorrectionSpreads() {
        const auto arms = [](const char* side, double x) {
            const std::string s = side;
            return std::vector<std::tuple<std::string, int, Vec3d>>{{"arm_1" + s, 2, {0.15 * x, 1.4, 0}},
                                                                    {"arm_2" + s, 3, {0.4 * x, 1.4, 0}},
                                                                    {"arm_3" + s, 4, {0.65 * x, 1.4, 0}}};
        };
        std::vector<std::tuple<std::string, int, Vec3d>> joints{
            {"hips", -1, {0, 1, 0}}, {"spine", 0, {0, 1.2, 0}}, {"chest", 1, {0, 1.35, 0}}};
        for (const auto& j : arms("_l", 1))
            joints.push_back(j);
        for (auto j : arms("_r", -1)) {
            if (std::get<1>(j) > 2)
                std::get<1>(j) += 3;
            joints.push_back(j);
        }
        const Character c = stickFigure(joints);
        const auto before = guessRoles(c);
        QCOMPARE(before[3].role, Role::Shoulder);
        QCOMPARE(before[5].role, Role::Wrist);
        const auto after = guessRoles(c, {{"arm_1_l", {Role::Collarbone, Side::Left}}});
        QCOMPARE(QString::fromLatin1(after[3].basis), QStringLiteral("corrected"));
        for (int k : {3, 6})
            QCOMPARE(nameOf(after[k].role), "collarbone");
        for (int k : {4, 7})
            QCOMPARE(nameOf(after[k].role), "shoulder");
        for (int k : {5, 8})
            QCOMPARE(nameOf(after[k].role), "elbow");
        const auto both = guessRoles(
            c, {{"arm_1_l", {Role::Collarbone, Side::Left}}, {"arm_1_r", {Role::Shoulder, Side::Right}}});
        QCOMPARE(both[6].role, Role::Shoulder);
    }
};

HOBBLE_TEST(TestRolesByShape)
#include "test_roles_by_shape.moc"
