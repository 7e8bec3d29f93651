#include "core/character/body.h"
#include "support/other_locale.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>

#include <clocale>

using namespace hobble;
using namespace hobble::test;

class TestRoles : public QObject {
    Q_OBJECT

    // A biped in a T with all its joints' names given: pelvis, spine, neck, head, then for each side
    // collarbone, upper arm, forearm, hand, thigh, shin, foot, toe.
    static Character biped(const std::vector<std::string>& middle, const std::vector<std::string>& left,
                           const std::vector<std::string>& right) {
        std::vector<std::tuple<std::string, int, Vec3d>> j{{middle[0], -1, {0, 1, 0}},
                                                           {middle[1], 0, {0, 1.2, 0}},
                                                           {middle[2], 1, {0, 1.5, 0}},
                                                           {middle[3], 2, {0, 1.6, 0}}};
        int side = 1;
        for (const auto* names : {&left, &right}) {
            const int first = static_cast<int>(j.size());
            const double s = side;
            j.push_back({(*names)[0], 1, {0.05 * s, 1.45, 0}});
            j.push_back({(*names)[1], first, {0.2 * s, 1.45, 0}});
            j.push_back({(*names)[2], first + 1, {0.45 * s, 1.45, 0}});
            j.push_back({(*names)[3], first + 2, {0.7 * s, 1.45, 0}});
            j.push_back({(*names)[4], 0, {0.1 * s, 0.95, 0}});
            j.push_back({(*names)[5], first + 4, {0.1 * s, 0.5, 0}});
            j.push_back({(*names)[6], first + 5, {0.1 * s, 0.1, 0}});
            j.push_back({(*names)[7], first + 6, {0.1 * s, 0.02, 0.15}});
            side = -1;
        }
        return stickFigure(j);
    }

    static void checkBiped(const Character& c) {
        const auto roles = guessRoles(c);
        const Role expected[] = {Role::Pelvis, Role::Spine, Role::Neck, Role::Head};
        for (int j = 0; j < 4; ++j) {
            QCOMPARE(QString(nameOf(roles[j].role)), QString(nameOf(expected[j])));
            QCOMPARE(roles[j].side, Side::Middle);
        }
        const Role limb[] = {Role::Collarbone, Role::Shoulder, Role::Elbow, Role::Wrist,
                             Role::Hip,        Role::Knee,     Role::Ankle, Role::Toe};
        for (int k = 0; k < 8; ++k) {
            const std::string& name = c.skeleton.name[4 + k];
            QVERIFY2(roles[4 + k].role == limb[k],
                     (name + " is taken for " + nameOf(roles[4 + k].role)).c_str());
            QVERIFY2(roles[12 + k].role == limb[k], c.skeleton.name[12 + k].c_str());
            QVERIFY2(roles[4 + k].side == Side::Left, name.c_str());
            QVERIFY2(roles[12 + k].side == Side::Right, c.skeleton.name[12 + k].c_str());
            QVERIFY2(roles[4 + k].mirror == 12 + k && roles[12 + k].mirror == 4 + k, name.c_str());
        }
    }

private slots:
    void words_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QString>("words");
        QTest::newRow("camel") << "LeftForeArm"
                               << "left fore arm";
        QTest::newRow("namespace") << "crew:rig|LeftArm"
                                   << "left arm";
        QTest::newRow("snake") << "upper_arm.L"
                               << "upper arm l";
        QTest::newRow("digits") << "spine02"
                                << "spine 02";
        QTest::newRow("prefix") << "l_upperArm"
                                << "l upper arm";
        QTest::newRow("run together") << "lshin"
                                      << "l shin";
        QTest::newRow("acronym") << "IKFootL"
                                 << "ik foot l";
        QTest::newRow("spaces") << "Bone L Thigh"
                                << "bone l thigh";
        QTest::newRow("leftleg") << "leftleg"
                                 << "left leg";
        QTest::newRow("upper") << "UPPERARM_R"
                               << "upper arm r";
    }
    void words() {
        QFETCH(QString, name);
        QFETCH(QString, words);
        QStringList got;
        for (const auto& w : wordsOf(name.toStdString()))
            got << QString::fromStdString(w);
        QCOMPARE(got.join(' '), words);
    }

    // Under settings in whose language I has no dot in lower case, a SPINE is a spine all the same.
    void whateverTheSystemSpeaks() {
        QTemporaryDir locales;
        QVERIFY(!test::madeLocale(locales, QStringLiteral("tr_TR")).isEmpty());
        qputenv("LOCPATH", locales.path().toLocal8Bit());
        QVERIFY(std::setlocale(LC_ALL, "tr_TR.UTF-8"));
        const auto spine = wordsOf("SPINE_01"), limb = wordsOf("HipIndex_L");
        std::setlocale(LC_ALL, "C");
        QCOMPARE(spine, wordsOf("spine_01"));
        QCOMPARE(limb, wordsOf("hip_index_l"));
    }

    void conventions() {
        checkBiped(biped({"Hips", "Spine", "Neck", "Head"},
                         {"LeftShoulder", "LeftArm", "LeftForeArm", "LeftHand", "LeftUpLeg", "LeftLeg",
                          "LeftFoot", "LeftToeBase"},
                         {"RightShoulder", "RightArm", "RightForeArm", "RightHand", "RightUpLeg", "RightLeg",
                          "RightFoot", "RightToeBase"}));
        checkBiped(biped(
            {"pelvis", "spine_01", "neck_01", "head"},
            {"clavicle_l", "upperarm_l", "lowerarm_l", "hand_l", "thigh_l", "calf_l", "foot_l", "ball_l"},
            {"clavicle_r", "upperarm_r", "lowerarm_r", "hand_r", "thigh_r", "calf_r", "foot_r", "ball_r"}));
        checkBiped(biped({"rig:pelvis", "rig:chest", "rig:neck", "rig:head"},
                         {"rig:L_collar", "rig:L_shoulder", "rig:L_elbow", "rig:L_wrist", "rig:L_hip",
                          "rig:L_knee", "rig:L_ankle", "rig:L_toe"},
                         {"rig:R_collar", "rig:R_shoulder", "rig:R_elbow", "rig:R_wrist", "rig:R_hip",
                          "rig:R_knee", "rig:R_ankle", "rig:R_toe"}));
        checkBiped(biped({"DEF-pelvis", "DEF-spine", "DEF-neck", "DEF-head"},
                         {"DEF-shoulder.L", "DEF-upper_arm.L", "DEF-forearm.L", "DEF-hand.L", "DEF-thigh.L",
                          "DEF-shin.L", "DEF-foot.L", "DEF-toe.L"},
                         {"DEF-shoulder.R", "DEF-upper_arm.R", "DEF-forearm.R", "DEF-hand.R", "DEF-thigh.R",
                          "DEF-shin.R", "DEF-foot.R", "DEF-toe.R"}));
        checkBiped(biped({"Pelvis", "Torso", "Neck", "Skull"},
                         {"ClavicleLeft", "ArmUpperLeft", "ArmLowerLeft", "HandLeft", "LegUpperLeft",
                          "LegLowerLeft", "FootLeft", "ToesLeft"},
                         {"ClavicleRight", "ArmUpperRight", "ArmLowerRight", "HandRight", "LegUpperRight",
                          "LegLowerRight", "FootRight", "ToesRight"}));
        checkBiped(biped({"hip", "abdomen", "neck", "head"},
                         {"lCollar", "lShldr arm", "lForeArm", "lHand", "lThigh", "lShin", "lFoot", "lToe"},
                         {"rCollar", "rShldr arm", "rForeArm", "rHand", "rThigh", "rShin", "rFoot", "rToe"}));
    }

    void frontIsFoundFromTheBody() {
        Character c = biped({"Hips", "Spine", "Neck", "Head"},
                            {"LeftShoulder", "LeftArm", "LeftForeArm", "LeftHand", "LeftUpLeg", "LeftLeg",
                             "LeftFoot", "LeftToeBase"},
                            {"RightShoulder", "RightArm", "RightForeArm", "RightHand", "RightUpLeg",
                             "RightLeg", "RightFoot", "RightToeBase"});
        BodyFrame b = bodyFrame(c, guessRoles(c));
        QVERIFY(b.up.isApprox(Vec3d::UnitY()) && b.forward.isApprox(Vec3d::UnitZ()) &&
                b.left.isApprox(Vec3d::UnitX()));
        QVERIFY(!b.quadruped);
        // the same body lying in a file whose up is z and whose front is −y
        const Transform turned(Eigen::AngleAxisd(kPi / 2, Vec3d::UnitX()));
        c = moved(c, turned);
        b = bodyFrame(c, guessRoles(c));
        QVERIFY(b.up.isApprox(Vec3d::UnitZ(), 1e-6));
        QVERIFY(b.forward.isApprox(-Vec3d::UnitY(), 1e-6));
    }

    void quadruped() {
        std::vector<std::tuple<std::string, int, Vec3d>> j{
            {"pelvis", -1, {0, 1, -0.5}}, {"spine", 0, {0, 1, 0}},    {"chest", 1, {0, 1, 0.4}},
            {"neck", 2, {0, 1.2, 0.6}},   {"head", 3, {0, 1.4, 0.8}}, {"tail1", 0, {0, 1, -0.7}},
            {"tail2", 5, {0, 1, -0.9}}};
        for (const char side : {'L', 'R'}) {
            const double x = side == 'L' ? 0.15 : -0.15;
            const std::string s(1, side);
            int f = static_cast<int>(j.size());
            j.push_back({"front_leg_upper." + s, 2, {x, 0.9, 0.4}});
            j.push_back({"front_leg_lower." + s, f, {x, 0.6, 0.33}});
            j.push_back({"front_foot." + s, f + 1, {x, 0.25, 0.4}});
            f = static_cast<int>(j.size());
            j.push_back({"hind_thigh." + s, 0, {x, 0.9, -0.5}});
            j.push_back({"hind_shin." + s, f, {x, 0.6, -0.4}});
            j.push_back({"hind_hock." + s, f + 1, {x, 0.3, -0.6}});
            j.push_back({"hind_toe." + s, f + 2, {x, 0.05, -0.5}});
        }
        const Character c = stickFigure(j);
        const auto roles = guessRoles(c);
        auto role = [&](const char* name) { return roles[c.skeleton.find(name)]; };
        QCOMPARE(role("front_leg_upper.L").role, Role::Shoulder);
        QCOMPARE(role("front_leg_lower.R").role, Role::Elbow);
        QCOMPARE(role("front_foot.L").role, Role::Wrist);
        QVERIFY(role("front_foot.L").fore);
        QCOMPARE(role("hind_thigh.L").role, Role::Hip);
        QCOMPARE(role("hind_shin.R").role, Role::Knee);
        QCOMPARE(role("hind_hock.R").role, Role::Ankle);
        QCOMPARE(role("tail2").role, Role::Tail);
        QCOMPARE(role("tail2").segment, 1);
        const BodyFrame b = bodyFrame(c, roles);
        QVERIFY(b.quadruped);
        QVERIFY(b.up.isApprox(Vec3d::UnitY()));
        QVERIFY(b.forward.isApprox(Vec3d::UnitZ()));
    }

    void fingersTwistsAndMarkers() {
        Character c = stickFigure({{"hand_l", -1, {0, 0, 0}},
                                   {"thumb_01_l", 0, {0.05, 0, 0.05}},
                                   {"thumb_02_l", 1, {0.08, 0, 0.07}},
                                   {"index_01_l", 0, {0.1, 0, 0.03}},
                                   {"index_02_l", 3, {0.13, 0, 0.03}},
                                   {"pinky_01_l", 0, {0.1, 0, -0.03}},
                                   {"pinky_end_l", 5, {0.13, 0, -0.03}},
                                   {"lowerarm_twist_01_l", 0, {-0.1, 0, 0}},
                                   {"hand_ik_l", 0, {0, 0, 0}}});
        // what holds skin is no end and no control, whatever it is called
        const auto skinned = guessRoles(c);
        QCOMPARE(skinned[6].role, Role::Finger);
        QVERIFY(skinned[8].role != Role::Control);
        SkinWeights& w = c.weights;
        for (std::uint32_t v = 0; v < w.vertexCount(); ++v)
            for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i)
                if (w.joint[i] == 6 || w.joint[i] == 8)
                    w.joint[i] = 0;
        const auto roles = guessRoles(c);
        QCOMPARE(roles[1].role, Role::Thumb);
        QCOMPARE(roles[2].segment, 1);
        QCOMPARE(roles[3].role, Role::Finger);
        QCOMPARE(roles[3].digit, 1);
        QCOMPARE(roles[4].digit, 1);
        QCOMPARE(roles[5].digit, 4); // the little finger, whatever is missing between
        QCOMPARE(roles[6].role, Role::End);
        QCOMPARE(roles[7].role, Role::Twist);
        QCOMPARE(roles[8].role, Role::Control);
    }
};

HOBBLE_TEST(TestRoles)
#include "test_roles.moc"
