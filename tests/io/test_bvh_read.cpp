// Motion capture: a file by hand with known turns, what our own writer wrote, and files that are not whole.
#include "core/pose/clip_pose.h"
#include "io/bvh_read.h"
#include "io/bvh_write.h"
#include "io/character_read.h"
#include "support/suite.h"

#include <QTemporaryDir>
#include <QTest>

using namespace hobble;

class TestBvhRead : public QObject {
    Q_OBJECT

    static std::string sample(const std::string& motion) {
        return "HIERARCHY\nROOT Hips\n{\n  OFFSET 0 90 0\n  CHANNELS 6 Xposition Yposition Zposition "
               "Zrotation "
               "Xrotation Yrotation\n  JOINT Left Leg\n  {\n    OFFSET 10 0 0\n    CHANNELS 3 Zrotation "
               "Xrotation "
               "Yrotation\n    End Site\n    {\n      OFFSET 0 -40 0\n    }\n  }\n}\nMOTION\n" +
               motion;
    }

private slots:
    void byHand() {
        const auto m = bvhFromText(sample("Frames: 2\nFrame Time: 0.05\n0 90 0 0 0 0 0 0 0\n"
                                          "1 80 2 30 0 0 90 45 0\n"));
        QVERIFY2(m.ok(), m.error().c_str());
        QCOMPARE(m->skeleton.name, (std::vector<std::string>{"Hips", "Left Leg", "Left Leg end"}));
        QCOMPARE(m->skeleton.parent, (std::vector<int>{-1, 0, 1}));
        QVERIFY((m->skeleton.neutralWorld[2].translation() - Vec3d(10, 50, 0)).norm() < 1e-9);
        QCOMPARE(m->frames, std::size_t(2));
        QVERIFY(std::abs(m->clip.seconds - 0.05) < 1e-9);
        QVERIFY(m->notes.empty());
        for (const ClipChannel& c : m->clip.channels) {
            if (c.joint == 0 && c.path == ClipChannel::Path::Translation) {
                QVERIFY((Vec3(c.value[3], c.value[4], c.value[5]) - Vec3(1, 80, 2)).norm() < 1e-6);
            } else if (c.joint == 1) { // Z then X, as the channels stand
                const Quat q(c.value[7], c.value[4], c.value[5], c.value[6]);
                const Quat z(Eigen::AngleAxisd(radians(90), Vec3d::UnitZ())),
                    x(Eigen::AngleAxisd(radians(45), Vec3d::UnitX()));
                QVERIFY(q.angularDistance(z * x) < 1e-6);
            }
        }
    }

    void whatWasWritten() {
        QTemporaryDir folder;
        const std::string path = (folder.path() + "/goat.bvh").toStdString();
        const Character c = *readCharacter(HOBBLE_DEMO_DIR "/pack-goat.glb");
        QVERIFY(!c.clips.empty());
        QVERIFY(writeBvh(c, c.clips[0], 30, path).ok());
        const auto m = readBvh(path);
        QVERIFY2(m.ok(), m.error().c_str());
        QVERIFY(m->frames > 10);
        // the joints of each frame stand where the clip puts them
        Character as;
        as.skeleton = m->skeleton;
        for (double seconds : {0.0, 0.4, 1.0}) {
            const auto here = worldTransforms(as.skeleton, poseAt(as, m->clip, seconds)),
                       there = worldTransforms(c.skeleton, poseAt(c, c.clips[0], seconds));
            for (int j = 0; j < c.skeleton.size(); ++j) {
                const int k = as.skeleton.find(c.skeleton.name[j]);
                QVERIFY(k >= 0);
                QVERIFY2((here[k].translation() - there[j].translation()).norm() < 2e-3,
                         c.skeleton.name[j].c_str());
            }
        }
    }

    void publicCaptures() {
        const QString folder = QStringLiteral("/usr/share/assimp/models/BVH/");
        if (!QFile::exists(folder))
            QSKIP("assimp-testmodels is not installed");
        for (const char* name : {"01_01.bvh", "01_03.bvh", "Boxing_Toes.bvh"}) {
            const auto m = readBvh((folder + name).toStdString());
            QVERIFY2(m.ok(), m.error().c_str());
            QVERIFY(m->skeleton.size() > 20 && m->frames > 5);
        }
    }

    void notWhole_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("says");
        const auto s = [](const char* motion) { return QString::fromStdString(sample(motion)); };
        QTest::newRow("empty") << ""
                               << "HIERARCHY";
        QTest::newRow("no root") << "HIERARCHY\nMOTION"
                                 << "no ROOT";
        QTest::newRow("no brace") << "HIERARCHY\nROOT a\nOFFSET 0 0 0"
                                  << "'{'";
        QTest::newRow("no number") << "HIERARCHY\nROOT a\n{\nOFFSET 0 x 0\n}"
                                   << "line 4: 'x' should be a length";
        QTest::newRow("not finite") << "HIERARCHY\nROOT a\n{\nOFFSET 0 nan 0\n}"
                                    << "should be a length";
        QTest::newRow("channel") << "HIERARCHY\nROOT a\n{\nOFFSET 0 0 0\nCHANNELS 1 Wrotation\n}"
                                 << "no channel";
        QTest::newRow("many channels") << "HIERARCHY\nROOT a\n{\nOFFSET 0 0 0\nCHANNELS 1e9 Xrotation"
                                       << "0 to 6";
        QTest::newRow("motion of words") << s("Frames: 1\nFrame Time: 0.05\nzero") << "number of the motion";
    }
    void notWhole() {
        QFETCH(QString, text);
        QFETCH(QString, says);
        const auto m = bvhFromText(text.toStdString());
        QVERIFY(!m.ok());
        QVERIFY2(QString::fromStdString(m.error()).contains(says), m.error().c_str());
    }

    void whatCanBeUsedIs() {
        const auto cut = bvhFromText(sample("Frames: 3\nFrame Time: 0\n0 90 0 0 0 0 0 0 0\n1 80 2 30 0"));
        QVERIFY2(cut.ok(), cut.error().c_str());
        QCOMPARE(cut->frames, std::size_t(1));
        QCOMPARE(cut->notes.size(), std::size_t(3)); // frame time, cut short, promises
        const auto still = bvhFromText("HIERARCHY\nROOT a\n{\nOFFSET 0 0 0\n}\n");
        QVERIFY(still.ok() && still->notes.size() == 1);
    }

    // However deep it nests.
    void deep() {
        std::string text = "HIERARCHY\nROOT a\n{\nOFFSET 0 0 0\n";
        for (int i = 0; i < 20000; ++i)
            text += "JOINT b" + std::to_string(i) + "\n{\nOFFSET 0 1 0\n";
        text += std::string(20001, '}');
        std::string spaced;
        for (char c : text)
            spaced += c == '}' ? std::string("} ") : std::string(1, c);
        const auto m = bvhFromText(spaced);
        QVERIFY2(m.ok(), m.error().c_str());
        QCOMPARE(m->skeleton.size(), 20001);
    }

    void canBeStopped() {
        std::string motion = "Frames: 5000\nFrame Time: 0.01\n";
        for (int i = 0; i < 5000; ++i)
            motion += "0 90 0 0 0 0 0 0 0\n";
        std::atomic<bool> cancel{true};
        QCOMPARE(bvhFromText(sample(motion), {&cancel, {}}).error(), std::string("stopped"));
    }
};

HOBBLE_TEST(TestBvhRead)
#include "test_bvh_read.moc"
