// The plan as a clip: read back by another program (here our own reader, without drivers) it shows the very
// skin that was tested, with neutral between the motions and a name for every key.
#include "core/deform/deformer.h"
#include "core/pose/clip_pose.h"
#include "core/pose/test_clip.h"
#include "io/bvh_read.h"
#include "io/bvh_write.h"
#include "io/character_read.h"
#include "io/gltf_write.h"
#include "support/suite.h"

#include <QTemporaryDir>
#include <QTest>

using namespace hobble;

class TestTestClip : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;

    std::string file(const char* name) const { return folder_.filePath(QLatin1String(name)).toStdString(); }
    static Character open(const char* name) {
        auto c = readCharacter(std::string(HOBBLE_DEMO_DIR "/") + name + ".glb");
        if (!c)
            qFatal("%s", c.error().c_str());
        return std::move(*c);
    }

private slots:
    void skinIsWhatWasTested_data() {
        QTest::addColumn<QString>("name");
        for (const char* name : {"badger-postmaster", "pack-goat", "lighthouse-newt"})
            QTest::newRow(name) << QString::fromLatin1(name);
    }

    void skinIsWhatWasTested() {
        QFETCH(QString, name);
        const Character c = open(name.toUtf8().constData());
        const Plan plan = fullPlan(c, guessRoles(c));
        Character out = c;
        out.clips = {testClip(c, plan)};
        QVERIFY(writeGlb(out, file("clip.glb")));
        auto back = readCharacter(file("clip.glb"));
        QVERIFY2(back, back ? "" : back.error().c_str());
        QCOMPARE(back->clips.size(), std::size_t(1));
        const Clip& clip = back->clips[0];
        QCOMPARE(clip.marks.size(), out.clips[0].marks.size());
        back->drivers.clear(); // another program knows none
        double worst = 0;
        int looked = 0;
        for (std::size_t i = 0; i < clip.marks.size(); i += 7) {
            const ClipMark& mark = clip.marks[i];
            const int m = plan.find(mark.motion);
            const Pose wanted =
                m < 0 ? Pose::neutral(c.skeleton) : poseAt(c.skeleton, plan.motions[std::size_t(m)], mark.at);
            std::vector<Vec3> tested, seen;
            deform(c, wanted, Skinning::Linear, tested);
            deform(*back, poseAt(*back, clip, mark.seconds), Skinning::Linear, seen);
            QCOMPARE(seen.size(), tested.size());
            for (std::size_t v = 0; v < seen.size(); ++v)
                worst = std::max(worst, double((seen[v] - tested[v]).norm()));
            ++looked;
        }
        qInfo("%s: %d of %zu named frames, skin %.2e m apart at most", qPrintable(name), looked,
              clip.marks.size(), worst);
        QVERIFY(worst < 1e-4);
    }

    void neutralFirstBetweenAndLast() {
        const Character c = open("badger-postmaster");
        Plan plan = defaultPlan(c, guessRoles(c));
        plan.motions[3].on = false;
        const std::string left = plan.motions[3].id;
        const Clip clip = testClip(c, plan);
        QCOMPARE(clip.marks.front().name, std::string("neutral"));
        QCOMPARE(clip.marks.back().name, std::string("neutral"));
        std::string motion;
        for (std::size_t i = 1; i < clip.marks.size(); ++i) {
            QVERIFY(clip.marks[i].seconds > clip.marks[i - 1].seconds);
            QVERIFY(clip.marks[i].motion != left);
            if (!clip.marks[i].motion.empty() && clip.marks[i].motion != motion) {
                QCOMPARE(clip.marks[i - 1].name, std::string("neutral")); // before each
                motion = clip.marks[i].motion;
            }
        }
        const auto named = std::find_if(clip.marks.begin(), clip.marks.end(),
                                        [](const ClipMark& m) { return m.name == "left elbow flex 90°"; });
        QVERIFY(named != clip.marks.end());
        Plan none;
        QCOMPARE(testClip(c, none).marks.size(), std::size_t(1)); // a plan of nothing is neutral
    }

    void asBvh() {
        const Character c = open("badger-postmaster");
        const Plan plan = fullPlan(c, guessRoles(c));
        const Clip clip = testClip(c, plan);
        QVERIFY(writeBvh(c, clip, 24, file("clip.bvh")));
        const auto back = readBvh(file("clip.bvh"));
        QVERIFY2(back, back ? "" : back.error().c_str());
        Character other;
        other.skeleton = back->skeleton;
        const int hand = c.skeleton.find("hand.L"), there = other.skeleton.find("hand.L");
        QVERIFY(there >= 0);
        double worst = 0;
        for (std::size_t i = 0; i < clip.marks.size(); i += 11) {
            const auto a = worldTransforms(c.skeleton, poseAt(c, clip, clip.marks[i].seconds)),
                       b = worldTransforms(other.skeleton, poseAt(other, back->clip, clip.marks[i].seconds));
            worst = std::max(
                worst, (a[std::size_t(hand)].translation() - b[std::size_t(there)].translation()).norm());
        }
        QVERIFY2(worst < 1e-3, qPrintable(QString::number(worst)));
    }

    // A clip that fades shapes in, told by glTF's weights, reads as it was written.
    void weightsOfShapes() {
        const Character c = open("lighthouse-newt");
        Plan plan;
        for (Motion& m : fullPlan(c, guessRoles(c)).motions)
            if (m.limb == Limb::Shapes && m.name == "smile")
                plan.motions.push_back(m);
        QCOMPARE(plan.motions.size(), std::size_t(1));
        Character out = c;
        out.clips = {testClip(c, plan)};
        QVERIFY(writeGlb(out, file("smile.glb")));
        const auto back = readCharacter(file("smile.glb"));
        QVERIFY(back);
        for (const ClipMark& m : back->clips[0].marks) {
            const Pose p = poseAt(*back, back->clips[0], m.seconds);
            double weight = 0;
            for (const TargetWeight& t : p.targets)
                weight = std::max(weight, t.weight);
            QVERIFY(std::abs(weight - m.at / 100) < 1e-6);
        }
    }
};

HOBBLE_TEST(TestTestClip)
#include "test_test_clip.moc"
